// The booking desk: serves the client and the pages that need no script.
import express from 'express'
import { readdirSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { open } from './lib/nights.mjs'

const here = path.dirname(fileURLToPath(import.meta.url))
const desk = express()
desk.set('view engine', 'pug')
desk.set('views', path.join(here, 'views'))
desk.use(express.static(path.join(here, 'public')))
for (const file of readdirSync(path.join(here, 'routes'))) {
  const route = await import(`./routes/${file}`)
  desk.use(route.at, route.router)
}
desk.get('/', (_, page) => page.render('home', { open: open().length }))
desk.listen(process.env.PORT ?? 8080)
