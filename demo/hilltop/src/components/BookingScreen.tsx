import { BookingForm } from './forms/BookingForm'
import { QueuePanel } from './QueuePanel'
import { WeatherPanel } from './WeatherPanel'
import './BookingScreen.css'

export const BookingScreen = () => (
  <>
    <BookingForm telescope="reflector-60" />
    <QueuePanel />
    <WeatherPanel />
  </>
)
