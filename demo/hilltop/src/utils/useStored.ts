import { recall, remember } from '../lib/storage'
import { state } from '../lib/state'

export function useStored<T>(key: string, first: T) {
  const [value, set] = state<T>(recall<T>(key) ?? first)
  return [value, (next: T) => { remember(key, next); set(next) }] as const
}
