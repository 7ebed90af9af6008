import { Button } from './Button'

export function SkyChart({ moon, load }: { moon: number, load: () => unknown }) {
  return <figure>{moon}<Button onClick={load}>Look again</Button></figure>
}
