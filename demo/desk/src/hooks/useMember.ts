export function useMember() {
  return { name: 'the desk' }
}
