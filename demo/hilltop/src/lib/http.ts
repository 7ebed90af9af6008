import { remember } from './storage'
import { retry } from '../helpers/retry'

export async function get<T>(path: string): Promise<T> {
  const answer = await retry(() => fetch('/api' + path))
  const body = (await answer.json()) as T
  remember(path, body)
  return body
}

export async function send<T>(path: string, body: unknown): Promise<T> {
  const answer = await fetch('/api' + path, { method: 'POST', body: JSON.stringify(body) })
  return (await answer.json()) as T
}

export function mount(selector: string, element: JSX.Element) {
  const place = document.querySelector(selector)
  if (place) place.textContent = String(element.tag)
}
