import { get } from '../lib/http'
import { endpoints } from '../api/client/endpoints'
import type { Telescope } from '../types/telescope'

export const telescopes = () => get<Telescope[]>(endpoints.telescopes)
