import { readFileSync } from 'node:fs'

const nights = JSON.parse(readFileSync(new URL('./nights.json', import.meta.url), 'utf8'))
export const all = () => nights
export const open = () => nights.filter((n) => !n.booked)
