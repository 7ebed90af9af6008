export function nightOf(time: Date): string {
  const noon = new Date(time.getTime() - 12 * 3600_000)
  return noon.toISOString().slice(0, 10)
}

export function nights(from: string, count: number): string[] {
  const first = new Date(from + 'T12:00:00Z').getTime()
  return Array.from({ length: count }, (_, i) => nightOf(new Date(first + i * 86_400_000 + 43_200_000)))
}
