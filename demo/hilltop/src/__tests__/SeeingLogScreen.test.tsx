import { SeeingLogScreen } from '../components/SeeingLogScreen'

export const shown = <SeeingLogScreen />
