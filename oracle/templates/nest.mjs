// Fills in what a generator of services leaves open, in the folder where it is run.
import fs from 'node:fs'
for (const f of fs.readdirSync('.', { recursive: true, withFileTypes: true }).filter((f) => f.isFile())) {
  const p = f.parentPath + '/' + f.name
  const text = fs.readFileSync(p, 'utf8').replace(/<%= strict[^%]*%>/g, 'true').replace(/<%= (\w+) %>/g, 'hilltop')
  fs.writeFileSync(p, text)
  if (f.name.includes('__')) fs.renameSync(p, p.replace('__specFileSuffix__', 'spec'))
}
