import { moonAge } from '../utils/sky'

export const ok = moonAge(new Date(0)) < 30
