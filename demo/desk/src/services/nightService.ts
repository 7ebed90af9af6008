import type { Night } from '../types/night'

export async function fetchNights(): Promise<Night[]> {
  return (await fetch('/api/nights')).json()
}
