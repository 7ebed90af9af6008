import { shortDate } from '../helpers/dates'

export function DatePicker() {
  return <input type="date" placeholder={shortDate(new Date())} />
}
