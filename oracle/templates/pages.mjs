// Starts a server as its own start script does, requests pages and prints what came back.
import fs from 'node:fs'
import { spawn } from 'node:child_process'
const { scripts } = JSON.parse(fs.readFileSync('package.json', 'utf8'))
const server = spawn('sh', ['-c', 'exec ' + scripts.start], { stdio: 'ignore' })
const base = `http://127.0.0.1:${process.env.PORT}`
for (let i = 0; i < 100; i++) {
  try {
    await fetch(base)
    break
  } catch {
    await new Promise((r) => setTimeout(r, 100))
  }
}
for (const page of process.argv.slice(2)) {
  const answer = await fetch(base + page)
  console.log(page, answer.status, answer.headers.get('content-type'))
  console.log((await answer.text()).replace(/(\/[^\s<&;]+)+\.js:\d+:\d+/g, 'FILE').split('\n').filter((l) => !l.includes('at ')).join('\n').slice(0, 600))
}
server.kill()
