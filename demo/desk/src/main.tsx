import './styles/base.css'
import { App } from './App'

export const start = () => <App path={location.pathname} />
