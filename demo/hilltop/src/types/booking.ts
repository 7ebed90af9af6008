import type { Telescope } from './telescope'

export interface Booking {
  id: string
  night: string
  member: string
  telescope: Telescope['id']
  state: 'asked' | 'granted' | 'clouded out'
}
