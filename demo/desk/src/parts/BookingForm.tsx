import { useMember } from '../hooks/useMember'
import type { Night } from '../types/night'
import { Button } from './Button'
import { Card } from './Card'
import { DatePicker } from './DatePicker'

export function BookingForm({ onBook }: { onBook: (night: Night) => void }) {
  const member = useMember()
  return <Card><DatePicker /><Button onClick={() => onBook({ date: new Date(), telescope: 'east dome', member: member.name })}>Book</Button></Card>
}
