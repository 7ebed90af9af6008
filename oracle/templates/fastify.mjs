// Writes the manifest that a server's generator writes, in the folder where it is run.
import fs from 'node:fs'
fs.renameSync('__gitignore', '.gitignore')
fs.writeFileSync('package.json', JSON.stringify({
  name: 'hilltop', version: '1.0.0', main: 'app.ts', directories: { test: 'test' },
  scripts: { test: 'npm run build:ts && tsc -p test/tsconfig.json && node --test -r ts-node/register "test/**/*.ts"', start: 'npm run build:ts && fastify start -l info dist/app.js', 'build:ts': 'tsc' },
  dependencies: { fastify: '^5.0.0', 'fastify-plugin': '^5.0.0', '@fastify/autoload': '^6.0.0', '@fastify/sensible': '^6.0.0' },
  devDependencies: { '@types/node': '^22.0.0', c8: '^10.0.0', 'ts-node': '^10.0.0', typescript: '~5.8.2' },
}, null, 2) + '\n')
