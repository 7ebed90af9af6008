import { get } from '../lib/http'
import type { Member } from '@/types/member'

export const currentMember = () => get<Member>('/members/me')
export const members = () => get<Member[]>('/members')
