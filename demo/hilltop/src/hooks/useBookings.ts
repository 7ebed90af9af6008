import { bookings } from '../services/bookingService'
import { effect, state } from '../lib/state'
import type { Booking } from '../types/booking'

export function useBookings(): Booking[] {
  const [list, set] = state<Booking[]>([])
  effect(() => { void bookings().then(set) }, [])
  return list
}
