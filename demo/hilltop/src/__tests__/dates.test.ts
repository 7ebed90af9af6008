import { nightOf, nights } from '../utils/dates'

export const ok = nights('2031-03-01', 2)[1] === nightOf(new Date('2031-03-02T23:00:00Z'))
