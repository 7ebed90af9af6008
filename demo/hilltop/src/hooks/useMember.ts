import { currentMember } from '../utils/memberService'
import { effect, state } from '../lib/state'
import type { Member } from '../types/member'

export function useMember(): Member | undefined {
  const [member, set] = state<Member | undefined>(undefined)
  effect(() => { void currentMember().then(set) }, [])
  return member
}
