import { telescopes } from './telescopeService'
import { telescopeName } from '../utils/format'
import { effect, state } from '../lib/state'
import type { Telescope } from '../types/telescope'

export function DomePanel() {
  const [list, set] = state<Telescope[]>([])
  effect(() => { void telescopes().then(set) }, [])
  return <ul>{list.map((t) => <li>{telescopeName(t)}</li>)}</ul>
}
