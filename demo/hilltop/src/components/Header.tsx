import './Header.css'
import { useMember } from '../hooks/useMember'
import { nightOf } from '../utils/dates'
import { Avatar } from './Avatar'

export function Header({ now }: { now: Date }) {
  const member = useMember()
  return (
    <header>
      <h1>Hilltop Observatory &mdash; it's the night of {nightOf(now)}</h1>
      {member && <Avatar name={member.name} />}
    </header>
  )
}
