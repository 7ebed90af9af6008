import { useMember } from '../hooks/useMember'

export function Header() {
  return <header>Hilltop Observatory, {useMember().name}</header>
}
