export const toRadians = (degrees: number) => (degrees * Math.PI) / 180

export function hours(degrees: number): string {
  const h = Math.floor(degrees / 15)
  const m = Math.round((degrees / 15 - h) * 60)
  return `${h}h ${m}m`
}
