export function Button({ onClick, children }: { onClick: () => void, children?: unknown }) {
  return <button onClick={onClick}>{children}</button>
}
