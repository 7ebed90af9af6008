import { SkyPage } from './SkyPage'

export const test = () => typeof SkyPage === 'function'
