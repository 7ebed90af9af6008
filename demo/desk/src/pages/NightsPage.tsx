import { useNights } from '../hooks/useNights'
import { NightList } from '../parts/NightList'

export function NightsPage() {
  return <NightList nights={useNights()} />
}
