// Prints which pages and endpoints a full-stack build has, and how many modules it is made of.
import fs from 'node:fs'
import path from 'node:path'
const { manifest } = await import(path.resolve('.svelte-kit/output/server/manifest.js'))
console.log(manifest._.routes.map((r) => r.id + ' ' + !!r.page + ' ' + !!r.endpoint).sort().join('\n'))
console.log([...manifest.assets].sort().join(' '))
console.log(fs.readdirSync('.svelte-kit/output/client/_app/immutable', { recursive: true }).filter((f) => /\.(css|jpg|png|svg|webp|avif)$/.test(f)).map((f) => f.replace(/\.[\w-]{8}\./, '.').split('/').pop()).sort().join(' '))
