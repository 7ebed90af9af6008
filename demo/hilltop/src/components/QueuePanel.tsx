import { useBookings } from '../hooks/useBookings'
import { Badge } from './Badge'
import { Card } from './Card'
import { Table } from './Table'

export function QueuePanel() {
  const queue = useBookings().filter((b) => b.state === 'asked')
  return (
    <Card title="Waiting for a night">
      <Table rows={queue} cells={(b) => [b.night, b.member]} />
      {queue.map((b) => <Badge state={b.state} />)}
    </Card>
  )
}
