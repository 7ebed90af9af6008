// Writes the files of a full-stack demo that its generator keeps as text, in the folder where it is run.
import fs from 'node:fs'
import path from 'node:path'
const from = process.argv[2]
for (const f of JSON.parse(fs.readFileSync(path.join(from, 'files.types=typescript.json'), 'utf8'))) {
  fs.mkdirSync(path.dirname(f.name), { recursive: true })
  fs.writeFileSync(f.name, f.contents)
}
for (const f of fs.readdirSync('.').filter((f) => f.startsWith('DOT-'))) fs.renameSync(f, f.replace('DOT-', '.'))
fs.copyFileSync(path.join(from, 'package.json'), 'package.json')
fs.writeFileSync('vite.config.ts', "import { sveltekit } from '@sveltejs/kit/vite';\nimport { defineConfig } from 'vite';\n\nexport default defineConfig({\n\tplugins: [sveltekit()]\n});\n")
fs.writeFileSync('svelte.config.js', "import adapter from '@sveltejs/adapter-auto';\n\nexport default { kit: { adapter: adapter() } };\n")
fs.writeFileSync('tsconfig.json', '{\n\t"extends": "./.svelte-kit/tsconfig.json",\n\t"compilerOptions": { "allowJs": true, "checkJs": true, "skipLibCheck": true, "strict": true, "rewriteRelativeImportExtensions": true, "moduleResolution": "bundler" }\n}\n')
