// Lays out what manifests ask for, as a manager of packages does that gives each package no more than it asks for, and
// runs a command in that: each folder with a package.json gets a node_modules with links to the packages of the
// workspace and to those in MODULES. Afterwards all that was written is removed.
//
//   node strict.mjs COMMAND          runs it, and ends as it does
//   node strict.mjs --each COMMAND   takes each dependency of each package out in turn: the command must fail. Those that
//                                    the root asks for too are passed over, since they are found there.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'

const each = process.argv[2] === '--each'
const command = process.argv[each ? 3 : 2]
const tables = ['dependencies', 'devDependencies', 'peerDependencies', 'optionalDependencies']

function manifests(dir, out = []) {
  for (const e of fs.readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, e.name)
    if (e.isDirectory() && e.name !== 'node_modules') manifests(file, out)
    if (e.name === 'package.json') out.push({ dir, ...JSON.parse(fs.readFileSync(file, 'utf8')) })
  }
  return out
}
const all = manifests('.')
const root = all.find((m) => m.dir === '.')
const asked = (m) => [...new Set(tables.flatMap((t) => Object.keys(m[t] ?? {})))]

function lay(without) {
  for (const m of all) {
    for (const name of asked(m)) {
      if (m === without?.m && name === without.name) continue
      const member = all.find((other) => other !== root && other.name === name)
      const place = path.resolve(member ? member.dir : path.join(process.env.MODULES, name))
      if (!fs.existsSync(place)) throw new Error(`${m.dir} asks for ${name}, and there is none`)
      const link = path.join(m.dir, 'node_modules', name)
      fs.mkdirSync(path.dirname(link), { recursive: true })
      fs.symlinkSync(place, link)
    }
  }
}

function clean(dir = '.') {
  for (const e of fs.readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, e.name)
    if (e.name === 'node_modules' || e.name === 'dist' || e.name.endsWith('.tsbuildinfo')) fs.rmSync(file, { recursive: true })
    else if (e.isDirectory()) clean(file)
  }
}

function run(without, stdio) {
  try {
    lay(without)
    return spawnSync('sh', ['-c', command], { stdio }).status
  } finally {
    clean()
  }
}

if (!each) process.exit(run(undefined, 'inherit'))
let needed = 0
for (const m of all) {
  if (m === root) continue
  for (const name of asked(m)) {
    if (asked(root).includes(name)) continue
    if (run({ m, name }, 'ignore') === 0) {
      console.error(`${m.name} does not need ${name}`)
      process.exit(1)
    }
    needed++
  }
}
if (needed === 0) throw new Error('no package asks for anything')
console.log(`${needed} dependencies, and each is needed`)
