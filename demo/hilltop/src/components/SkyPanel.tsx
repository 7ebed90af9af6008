import './SkyPanel.css'
import { Card } from '.'
import { altitude } from '../utils/sky'

export function SkyPanel({ latitude }: { latitude: number }) {
  const vega = altitude(38.8, latitude)
  return <Card title="Sky tonight">{vega > 0.5 ? <p>Vega stands high</p> : <p>Vega is low</p>}</Card>
}
