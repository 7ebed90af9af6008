export interface Member {
  id: string
  name: string
  nights: number
  favourite?: import('./telescope').Telescope['id']
}
