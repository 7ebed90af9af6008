import { Link } from '../components/Link'

export const NotFoundScreen = () => <p>Nothing up here. <Link to="/">Home</Link></p>
