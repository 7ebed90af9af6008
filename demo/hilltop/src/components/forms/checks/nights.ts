import { nightOf } from '../../../utils/dates'

export const isNight = (text: string) => /^\d{4}-\d\d-\d\d$/.test(text) && nightOf(new Date(text + 'T18:00:00Z')) === text
