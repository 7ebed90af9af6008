import { moonAge } from '../utils/sky'
import { Card } from './Card'

export const MoonPanel = ({ now }: { now: Date }) => <Card title="Moon">{moonAge(now).toFixed(0)} days old</Card>
