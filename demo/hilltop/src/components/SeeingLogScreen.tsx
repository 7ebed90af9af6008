import { seeingLog } from '../api/seeingService'
import { seeing } from '../utils/format'
import { effect, state } from '../lib/state'
import type { Seeing } from '../types/telescope'
import { SeeingPanel } from './SeeingPanel'
import { Table } from './Table'

export function SeeingLogScreen() {
  const [log, set] = state<Seeing[]>([])
  effect(() => { void seeingLog().then(set) }, [])
  return (
    <div>
      <SeeingPanel log={log} />
      <Table rows={log} cells={(s) => [s.night, seeing(s.arcseconds), s.note ?? '']} />
    </div>
  )
}
