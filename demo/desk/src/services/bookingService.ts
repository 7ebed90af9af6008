import type { Night } from '../types/night'

export function book(night: Night) {
  void fetch('/api/nights', { method: 'POST', body: JSON.stringify(night) })
}
