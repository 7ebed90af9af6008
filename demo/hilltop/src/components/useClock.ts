import { effect, state } from '@/lib/state'

export function useClock(): Date {
  const [now, set] = state(new Date())
  effect(() => {
    const timer = setInterval(() => set(new Date()), 1000)
    return () => clearInterval(timer)
  })
  return now
}
