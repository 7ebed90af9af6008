export function Link({ to, children }: { to: string; children: string }) {
  return <a href={to}>{children}</a>
}
