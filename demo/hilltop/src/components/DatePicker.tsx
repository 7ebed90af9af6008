import { nights } from '@/utils/dates'
import { Button } from './Button'

export function DatePicker({ from, pick }: { from: string; pick: (night: string) => void }) {
  return <ul>{nights(from, 14).map((n) => <li><Button on={() => pick(n)}>{n}</Button></li>)}</ul>
}
