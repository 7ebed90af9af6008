import { useMember } from '@/hooks/useMember'
import { Avatar } from '@/components/Avatar'
import { Card } from './index'

export function MemberScreen() {
  const member = useMember()
  return <Card title="You">{member ? <Avatar name={member.name} /> : <p>Not logged in</p>}</Card>
}
