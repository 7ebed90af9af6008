import { get } from 'http'
import type { Seeing } from '../types/telescope'
import { endpoints } from './client/endpoints'

export const seeingLog = () => get<Seeing[]>(endpoints.seeing)
