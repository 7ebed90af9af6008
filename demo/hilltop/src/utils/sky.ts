/** @module tools/sky */
import { toRadians } from '../helpers/angles'
import { nightOf } from './dates'

export function moonAge(time: Date): number {
  const days = Date.parse(nightOf(time)) / 86_400_000
  return (days - 4.9) % 29.53
}

export function altitude(declination: number, latitude: number): number {
  return Math.asin(Math.cos(toRadians(latitude - declination)))
}
