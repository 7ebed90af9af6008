import { shortDate } from '../helpers/dates'
import type { Night } from '../types/night'

export function NightRow({ night }: { night: Night }) {
  return <li>{shortDate(night.date)}: {night.telescope}</li>
}
