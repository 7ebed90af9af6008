import { moonPhase } from '../helpers/moon'
import { SkyChart } from '../parts/SkyChart'
import { fetchSky } from '../services/skyService'

export function SkyPage() {
  return <SkyChart moon={moonPhase(new Date())} load={fetchSky} />
}
