import { get, send } from '../lib/http'
import type { Booking } from '../types/booking'

export const bookings = () => get<Booking[]>('/bookings')
export const book = (night: string, telescope: string) => send<Booking>('/bookings', { night, telescope })
