import { BookingForm } from '../parts/BookingForm'
import { book } from '../services/bookingService'

export function BookingPage() {
  return <BookingForm onBook={book} />
}
