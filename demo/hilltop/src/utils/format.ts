import { hours } from '../helpers/angles'
import type { Telescope } from '../types/telescope'

const digits = /\d+(?:\.\d+)?/g

export const seeing = (arcseconds: number) => `${arcseconds.toFixed(1)}"`
export const telescopeName = (t: Telescope) => `${t.name} (${t.aperture} cm)`
export const rightAscension = (degrees: number) => hours(degrees)
export const numbers = (text: string) => text.match(digits) ?? []
