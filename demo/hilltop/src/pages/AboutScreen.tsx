import { Card } from '../components'
import { Link } from '../components/Link'

export const AboutScreen = () => <Card title="About the hill"><Link to="/">Back to the calendar</Link></Card>
