// Writes the manifest that a generator of pages writes, and a part that the first page shows, in the folder where it is run.
import fs from 'node:fs'
fs.renameSync('gitignore', '.gitignore')
fs.rmSync('eslint.config.mjs')
fs.rmSync('next-env.d.ts')
fs.writeFileSync('package.json', '{\n  "name": "hilltop",\n  "private": true,\n  "scripts": { "build": "next build" },\n  "dependencies": { "next": "16", "react": "19", "react-dom": "19" },\n  "devDependencies": { "typescript": "5", "@types/node": "20", "@types/react": "19" }\n}\n')
fs.mkdirSync('parts')
fs.writeFileSync('parts/dome.tsx', 'export const Dome = () => <p>The dome is open.</p>\n')
fs.mkdirSync('app/nights')
fs.writeFileSync('app/nights/page.tsx', "import { Dome } from '@/parts/dome'\n\nexport default function Nights() {\n  return <Dome />\n}\n")
