import { Link } from './Link'

export const Footer = () => (
  <footer>
    <Link to="/about">About the hill</Link> / <Link to="/log">Seeing log</Link>
  </footer>
)
