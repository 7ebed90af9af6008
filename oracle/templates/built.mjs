// Prints what a bundle is made of: which modules by their names, which of them are entries, and the files that came of it, without the parts
// of their names that depend on their contents.
import fs from 'node:fs'
import path from 'node:path'
const folder = process.argv[2] ?? 'dist'
const plain = (name) => name.split('/').pop().replace(/[-.][\w-]{8}(?=\.)/, '')
const manifest = JSON.parse(fs.readFileSync(path.join(folder, '.vite/manifest.json'), 'utf8'))
for (const line of Object.entries(manifest).map(([k, v]) => [plain(k), v.isEntry ?? false, v.isDynamicEntry ?? false, (v.css ?? []).length, (v.assets ?? []).map(plain).sort()].join(' ')).sort()) console.log(line)
const files = fs.readdirSync(folder, { recursive: true, withFileTypes: true }).filter((f) => f.isFile() && !f.name.endsWith('.json'))
console.log(files.map((f) => plain(f.name) + ' ' + fs.statSync(path.join(f.parentPath, f.name)).size).sort().join('\n'))
