import './Layout.css'
import { Footer } from './Footer'
import { Header } from './Header'

export function Layout({ now, children }: { now: Date; children: JSX.Element }) {
  return (
    <div class="layout">
      <Header now={now} />
      <main>{children}</main>
      <Footer />
    </div>
  )
}
