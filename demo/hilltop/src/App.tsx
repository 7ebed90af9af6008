import { Layout } from './components/Layout'
import { NotFoundScreen } from './pages/NotFoundScreen'
import { routes } from './routes'
import { useClock } from '@/components/useClock'

export function App() {
  const now = useClock()
  const route = routes.find((r) => r.path === location.pathname)
  return <Layout now={now}>{route ? <route.screen /> : <NotFoundScreen />}</Layout>
}
