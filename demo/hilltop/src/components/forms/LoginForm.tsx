import { Button } from '@/components/Button'
import { send } from '../../lib/http'
import { isName } from './checks/names'

export function LoginForm() {
  let name = ''
  return (
    <form>
      <input oninput={(e: { target: { value: string } }) => { name = e.target.value }} />
      <Button on={() => { if (isName(name)) void send('/login', { name }) }}>Come in</Button>
    </form>
  )
}
