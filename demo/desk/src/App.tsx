import { BookingPage } from './pages/BookingPage'
import { NightsPage } from './pages/NightsPage'
import { SkyPage } from './pages/SkyPage'
import { MainLayout } from './parts/MainLayout'

const pages = { '/': NightsPage, '/book': BookingPage, '/sky': SkyPage }

export function App({ path }: { path: string }) {
  const Page = pages[path as keyof typeof pages] ?? NightsPage
  return <MainLayout><Page /></MainLayout>
}
