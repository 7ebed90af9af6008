import { fetchNights } from '../services/nightService'
import type { Night } from '../types/night'

let nights: Night[] = []

export function useNights(): Night[] {
  void fetchNights().then((found) => { nights = found })
  return nights
}
