import type { Booking } from '../types/booking'

export const Badge = ({ state }: { state: Booking['state'] }) => <b class={state}>{state}</b>
