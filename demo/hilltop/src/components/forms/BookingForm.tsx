import { book } from '../../services/bookingService'
import { Button } from '../Button'
import { DatePicker } from '../DatePicker'
import { state } from '../../lib/state'
import { isNight } from './checks/nights'

export function BookingForm({ telescope }: { telescope: string }) {
  const [night, setNight] = state('')
  return (
    <form>
      <DatePicker from="2031-03-01" pick={setNight} />
      <Button on={() => { if (isNight(night)) void book(night, telescope) }}>Book it</Button>
    </form>
  )
}
