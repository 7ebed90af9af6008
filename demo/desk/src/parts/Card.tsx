export function Card({ children }: { children?: unknown }) {
  return <section>{children}</section>
}
