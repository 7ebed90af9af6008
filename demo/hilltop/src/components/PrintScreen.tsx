import { useBookings } from '../hooks/useBookings'

export const PrintScreen = () => <pre>{useBookings().map((b) => `${b.night} ${b.member}\n`).join('')}</pre>
