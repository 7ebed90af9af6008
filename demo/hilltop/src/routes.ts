import { BookingScreen } from './components/BookingScreen'
import { CalendarScreen } from './components/CalendarScreen'
import { MemberScreen } from '@/components/MemberScreen'
import { SeeingLogScreen } from '@/components/SeeingLogScreen'
import { TelescopeScreen } from './components/TelescopeScreen.js'
import { LoginScreen } from './pages/LoginScreen'

export interface Route {
  path: string
  screen: () => JSX.Element
}

export const routes: Route[] = [
  { path: '/', screen: CalendarScreen },
  { path: '/book', screen: BookingScreen },
  { path: '/log', screen: SeeingLogScreen },
  { path: '/telescope', screen: TelescopeScreen },
  { path: '/member', screen: MemberScreen },
  { path: '/login', screen: LoginScreen },
]

export const later = {
  about: () => import('./pages/AboutScreen'),
  print: () => import(/* rarely needed */ './components/PrintScreen'),
}
