import { NightRow } from './NightRow'

export const test = () => typeof NightRow === 'function'
