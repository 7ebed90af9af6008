// Asks the TypeScript compiler where each specifier of a tree leads, and prints one JSON line a specifier:
// {"f": file, "s": specifier, "r": resolved file below the root, or null}. Paths are relative to the root.
//
//   node resolve.cjs ROOT < LINES    each line: FILE <tab> KIND <tab> SPECIFIER <tab> compiler file or empty, all but KIND as JSON
const fs = require('fs')
const path = require('path')
const ts = require(require.resolve('typescript', { paths: [process.cwd()] }))
const root = fs.realpathSync(process.argv[2])
const configs = new Map()

function optionsOf(config) {
  if (!configs.has(config)) {
    let options = { moduleResolution: ts.ModuleResolutionKind.Bundler, module: ts.ModuleKind.ESNext }
    if (config) {
      const file = path.join(root, config)
      const read = ts.readConfigFile(file, ts.sys.readFile)
      options = ts.parseJsonConfigFileContent(read.config || {}, ts.sys, path.dirname(file), undefined, file).options
    }
    options.allowJs = true
    options.resolveJsonModule = true
    options.allowArbitraryExtensions = true
    configs.set(config, { options, cache: ts.createModuleResolutionCache(root, (x) => x, options) })
  }
  return configs.get(config)
}

const out = []
for (const line of fs.readFileSync(0, 'utf8').split('\n')) {
  if (!line) continue
  const [file, kind, text, config] = line.split('\t').map((v, i) => (i === 1 ? v : JSON.parse(v)))
  const from = path.join(root, file)
  const { options, cache } = optionsOf(config)
  const commonJS = kind === 'require' || kind === 'require.resolve'
  const node16 = options.moduleResolution >= ts.ModuleResolutionKind.Node16 && options.moduleResolution <= ts.ModuleResolutionKind.NodeNext
  let mode = commonJS ? ts.ModuleKind.CommonJS : ts.ModuleKind.ESNext
  if (node16 && !commonJS) mode = ts.getImpliedNodeFormatForFile(from, cache.getPackageJsonInfoCache(), ts.sys, options) || ts.ModuleKind.ESNext
  const got = ts.resolveModuleName(text, from, options, ts.sys, cache, undefined, mode).resolvedModule
  let r = null
  if (got) {
    const rel = path.relative(root, got.resolvedFileName)
    if (!rel.startsWith('..') && !rel.includes('node_modules')) r = rel
  }
  out.push(JSON.stringify({ f: file, s: text, r }))
}
fs.writeSync(1, out.join('\n') + '\n')
