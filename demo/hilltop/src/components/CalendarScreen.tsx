import { MoonPanel } from './MoonPanel'
import { SkyPanel } from '@/components/SkyPanel'
import { useBookings } from '../hooks/useBookings'
import { nights } from '../utils/dates'
import { useClock } from './useClock'

export function CalendarScreen() {
  const now = useClock()
  const taken = new Set(useBookings().map((b) => b.night))
  return (
    <div>
      <SkyPanel latitude={48} />
      <MoonPanel now={now} />
      <ol>{nights('2031-03-01', 28).map((n) => <li>{n} {taken.has(n) ? 'taken' : 'free'}</li>)}</ol>
    </div>
  )
}
