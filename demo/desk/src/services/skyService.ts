export function fetchSky() {
  return fetch('/api/sky')
}
