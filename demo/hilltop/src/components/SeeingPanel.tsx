import { seeing } from '../utils/format'
import type { Seeing } from '../types/telescope'
import { Card } from './Card'

export function SeeingPanel({ log }: { log: Seeing[] }) {
  const best = Math.min(...log.map((s) => s.arcseconds))
  return <Card title="Best seeing">{seeing(best)}</Card>
}
