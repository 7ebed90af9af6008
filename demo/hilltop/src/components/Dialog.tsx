import { Button } from './Button'
import { Card } from './Card'

export function Dialog({ title, close, children }: { title: string; close: () => void; children: unknown }) {
  return (
    <Card title={title}>
      <div>{children as string}</div>
      <Button on={close}>Close</Button>
    </Card>
  )
}
