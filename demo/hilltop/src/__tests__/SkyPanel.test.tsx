import { SkyPanel } from '../components/SkyPanel'

export const shown = <SkyPanel latitude={48} />
