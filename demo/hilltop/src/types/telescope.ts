export interface Telescope {
  id: string
  name: string
  aperture: number
}

export interface Seeing {
  night: string
  arcseconds: number
  note?: string
}
