import type { Night } from '../types/night'
import { Card } from './Card'
import { NightRow } from './NightRow'
import './NightList.css'

export function NightList({ nights }: { nights: Night[] }) {
  return <Card>{nights.map((night) => <NightRow night={night} />)}</Card>
}
