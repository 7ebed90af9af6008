import { Card, Spinner } from '@/components'
import { useStored } from '../utils/useStored'

export function WeatherPanel() {
  const [clouds] = useStored('clouds', -1)
  return <Card title="Weather">{clouds < 0 ? <Spinner /> : <p>{clouds} % clouds</p>}</Card>
}
