import { Header } from './Header'

export function MainLayout({ children }: { children?: unknown }) {
  return <main><Header />{children}</main>
}
