export function Avatar({ name }: { name: string }) {
  const initials = name.split(/\s+/).map((w) => w[0]).join('')
  return <span class="avatar" title={name}>{initials}</span>
}
