const kept = new Map<string, unknown>()

export function remember(key: string, value: unknown) {
  kept.set(key, value)
}

export function recall<T>(key: string): T | undefined {
  return kept.get(key) as T | undefined
}
