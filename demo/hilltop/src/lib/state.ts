export type Setter<T> = (next: T) => void

/** A very small stand-in for a view library's state. */
export function state<T>(first: T): [T, Setter<T>] {
  let value = first
  return [value, (next) => { value = next }]
}

export function effect(run: () => void | (() => void), _on: unknown[] = []) {
  queueMicrotask(() => { run() })
}
