import './Button.css'

export interface ButtonProps {
  on: () => void
  children: string
  busy?: boolean
}

export function Button({ on, children, busy = false }: ButtonProps) {
  return <button class={`button ${busy ? 'busy' : ''}`} onclick={on}>{children}</button>
}
