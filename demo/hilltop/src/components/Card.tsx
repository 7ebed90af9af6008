export function Card({ title, children }: { title: string; children: unknown }) {
  return <section class="card"><h2>{title}</h2>{children}</section>
}
