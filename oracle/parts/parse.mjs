// Reads file paths, one a line, and prints one JSON line for each: what the languages' own parsers say of the references in
// style sheets, single-file components and pages. Offsets are bytes. A file, or a part of one, with syntax errors is left out.
//
//   node parse.mjs LIST PART PARTS    handles the lines whose number is PART modulo PARTS
import fs from 'node:fs'
import { createRequire } from 'node:module'
import path from 'node:path'
const require = createRequire(path.join(process.cwd(), 'x.js'))
const postcss = require('postcss'), scss = require('postcss-scss'), less = require('postcss-less'), valueParser = require('postcss-value-parser')
const sfc = require('@vue/compiler-sfc'), parse5 = require('parse5'), ts = require('typescript')

const [list, part, parts] = [process.argv[2], +process.argv[3], +process.argv[4]]

// What is no path: other places, data, fragments, text with escapes or interpolation.
const scheme = (t) => { const i = t.indexOf(':'); return i > 0 && !/[/.]/.test(t.slice(0, i)) }
const stylePath = (t) => t !== '' && t[0] !== '#' && t !== '/' && !/[\\\n]/.test(t) && !t.includes('//') && !scheme(t) && !t.includes('#{') && !t.includes('@{')
const local = (t) => {
  if (t === '' || t[0] === '#' || t[0] === '?' || t.startsWith('//') || /[\n\r\t]/.test(t) || /\{\{|<%|\{%|\$\{/.test(t)) return false
  const i = t.indexOf(':')
  return i < 0 || /[/.?#]/.test(t.slice(0, i))
}

// style finds the references of a style sheet; add is called with offsets in the text, and with the kind.
function style(text, lang, add) {
  const syntax = { scss, less }[lang]
  const root = (syntax ? syntax.parse : postcss.parse)(text)
  const strings = (nodes, f) => nodes.forEach((n) => { if (n.type === 'string') f(n); if (n.nodes) strings(n.nodes, f) })
  const values = (raw, at, importing) => {
    const first = (n, kind) => {
      if (n.type === 'string' && !n.unclosed) { const t = n.value; if (stylePath(t)) add(at + n.sourceIndex + 1, at + n.sourceIndex + 1 + t.length, kind) }
    }
    valueParser(raw).walk((n) => {
      if (n.type !== 'function') return
      const name = n.value.toLowerCase()
      if (name === 'url') {
        const inner = n.nodes.filter((c) => c.type !== 'space' && c.type !== 'comment')
        if (inner.length !== 1 || n.unclosed) return false
        const c = inner[0]
        const kind = importing && importing() ? (lang === 'less' ? 'less import' : 'style import') : 'style asset'
        if (c.type === 'string') first(c, kind)
        else if (c.type === 'word' && !/["'( \n$+]/.test(c.value) && stylePath(c.value)) add(at + c.sourceIndex, at + c.sourceIndex + c.value.length, kind)
        return false
      }
      if (name === 'image-set' || name === '-webkit-image-set') n.nodes.forEach((c) => first(c, 'style asset'))
      if (name.endsWith('load-css') && lang !== 'css') { const c = n.nodes.find((c) => c.type === 'string'); if (c) first(c, 'sass import') }
    })
  }
  const relative = (t) => /^\.\.?\//.test(t)
  const variable = (raw, at) => { // one that holds a path
    const c = valueParser(raw).nodes.find((c) => c.type !== 'space' && c.type !== 'comment')
    if (c?.type === 'string' && !c.unclosed && relative(c.value) && stylePath(c.value)) add(at + c.sourceIndex + 1, at + c.sourceIndex + 1 + c.value.length, 'style asset')
  }
  root.walk((n) => {
    const from = n.source.start.offset
    if (n.type === 'decl') {
      const raw = n.raws.value?.scss ?? n.raws.value?.raw ?? n.value
      const at = text.indexOf(raw, from + n.prop.length)
      if (raw.trim() === '' || at < 0) return
      values(raw, at)
      if (lang === 'scss' && n.prop.startsWith('$')) variable(raw, at)
      if (n.prop.toLowerCase() === 'composes') {
        const nodes = valueParser(raw).nodes.filter((c) => c.type !== 'space' && c.type !== 'comment')
        nodes.forEach((c, i) => { if (c.type === 'string' && nodes[i - 1]?.value === 'from' && stylePath(c.value)) add(at + c.sourceIndex + 1, at + c.sourceIndex + 1 + c.value.length, 'style import') })
      }
    } else if (n.type === 'atrule') {
      if (n.variable && n.value === undefined && !n.params) return
      const raw = n.raws.params?.scss ?? n.raws.params?.raw ?? n.params ?? ''
      const full = n.variable ? (n.raws.value?.raw ?? n.value ?? raw) : raw
      if (full === '') return
      const at = text.indexOf(full, from + 1 + (n.mixin ? 0 : n.name.length))
      if (at < 0) return
      const name = n.name.toLowerCase()
      let open = name === 'import'
      values(full, at, () => { const was = open; open = false; return was })
      const nodes = valueParser(full).nodes.filter((c) => c.type !== 'space' && c.type !== 'comment')
      const str = (c, kind) => { if (stylePath(c.value) && !c.unclosed) add(at + c.sourceIndex + 1, at + c.sourceIndex + 1 + c.value.length, kind) }
      if (n.variable) { if (lang === 'less') variable(full, at); return }
      if (['source', 'config', 'plugin', 'reference'].includes(name) && lang !== 'less') {
        const c = nodes.find((c) => c.type === 'string')
        if (c && relative(c.value) && !/[*{]/.test(c.value)) str(c, 'style asset')
      } else if (name === 'import') {
        if (lang === 'less') { const c = nodes.find((c) => c.type !== 'function' || c.value !== ''); if (c?.type === 'string') str(c, 'less import') }
        else if (lang === 'scss') nodes.forEach((c, i) => {
          if (c.type !== 'string') return
          const plain = c.value.endsWith('.css') || (nodes[i + 1] && nodes[i + 1].type !== 'div')
          str(c, plain ? 'style import' : 'sass import')
        })
        else if (nodes[0]?.type === 'string') str(nodes[0], 'style import')
      } else if ((name === 'use' || name === 'forward') && lang === 'scss') { if (nodes[0]?.type === 'string') str(nodes[0], 'sass import') }
      else if (name === 'plugin' && lang === 'less') { const c = nodes.find((c) => c.type === 'string'); if (c) str(c, 'style asset') }
      else if (name === 'value') nodes.forEach((c, i) => { if (c.type === 'string' && nodes[i - 1]?.value === 'from') str(c, 'style import') })
    }
  })
}

// script finds the specifiers of a script. It gives false where the compiler reports syntax errors.
function script(text, ext, add, pageOnly) {
  const kind = { ts: ts.ScriptKind.TS, tsx: ts.ScriptKind.TSX }[ext] ?? ts.ScriptKind.JSX
  const sf = ts.createSourceFile('x.' + ext, text, ts.ScriptTarget.Latest, false, kind)
  if (sf.parseDiagnostics.length) return false
  const literal = (n, kind) => {
    if (!n || !ts.isStringLiteralLike(n)) return
    if (pageOnly && n.text.startsWith('/')) kind = 'asset'
    add(n.getStart(sf) + 1, n.end - 1, kind)
  }
  const visit = (n) => {
    if (ts.isImportDeclaration(n)) literal(n.moduleSpecifier, 'import')
    else if (ts.isExportDeclaration(n)) literal(n.moduleSpecifier, 'export')
    else if (ts.isImportTypeNode(n)) { if (!pageOnly && ts.isLiteralTypeNode(n.argument)) literal(n.argument.literal, 'dynamic import') }
    else if (ts.isCallExpression(n) && !n.questionDotToken) {
      const e = n.expression
      if (e.kind === ts.SyntaxKind.ImportKeyword) literal(n.arguments[0], 'dynamic import')
      else if (!pageOnly && ts.isIdentifier(e) && e.text === 'require') literal(n.arguments[0], 'require')
    }
    ts.forEachChild(n, visit)
  }
  visit(sf)
  return true
}

function sourceSet(raw, at, add) {
  let i = 0
  while (i < raw.length) {
    while (i < raw.length && /[\s,]/.test(raw[i])) i++
    const start = i
    while (i < raw.length && !/\s/.test(raw[i])) i++
    let stop = i
    while (stop > start && raw[stop - 1] === ',') stop--
    if (local(raw.slice(start, stop))) add(at + start, at + stop, 'asset')
    if (stop !== i) continue
    for (let depth = 0; i < raw.length; i++) {
      if (raw[i] === '(') depth++
      else if (raw[i] === ')') depth--
      else if (raw[i] === ',' && depth <= 0) { i++; break }
    }
  }
}

const trimmed = (raw, at, add) => {
  const t = raw.trim()
  if (local(t)) { const s = at + raw.indexOf(t); add(s, s + t.length, 'asset') }
}

const assets = { img: ['src'], source: ['src'], video: ['src', 'poster'], image: ['href', 'xlink:href'], use: ['href', 'xlink:href'] }

function component(text, file, add, leave) {
  const { descriptor, errors } = sfc.parse(text, { filename: file, sourceMap: false, ignoreEmpty: false })
  if (errors.length) return false
  for (const b of [descriptor.script, descriptor.scriptSetup]) {
    if (!b || b.src) continue
    const [s, e] = [b.loc.start.offset, b.loc.end.offset]
    if (!script(text.slice(s, e), b.lang ?? 'js', (x, y, k) => add(s + x, s + y, k))) leave(s, e)
  }
  for (const b of descriptor.styles) {
    if (b.src) continue
    const [s, e] = [b.loc.start.offset, b.loc.end.offset]
    const lang = b.lang ?? 'css'
    if (!['css', 'scss', 'less', 'postcss', 'pcss'].includes(lang)) { leave(s, e); continue }
    try { style(text.slice(s, e), lang === 'postcss' || lang === 'pcss' ? 'css' : lang, (x, y, k) => add(s + x, s + y, k)) } catch { leave(s, e) }
  }
  for (const b of [descriptor.script, descriptor.scriptSetup, ...descriptor.styles, descriptor.template]) {
    if (!b?.src || !local(b.src)) continue
    const before = text.lastIndexOf('<', b.loc.start.offset - 1)
    const m = /\ssrc\s*=\s*["']?/.exec(text.slice(before))
    const s = before + m.index + m[0].length
    add(s, s + b.src.length, 'asset')
  }
  const t = descriptor.template
  if (t && t.lang && t.lang !== 'html') return true
  const walk = (n) => {
    if (n.type === 1) {
      for (const p of n.props) {
        if (p.type === 6 && p.value) {
          let s = p.value.loc.start.offset, raw = p.value.loc.source
          if (/^["']/.test(raw)) { s++; raw = raw.slice(1, -1) }
          if (assets[n.tag]?.includes(p.name)) trimmed(raw, s, add)
          else if (p.name === 'srcset' && (n.tag === 'img' || n.tag === 'source')) sourceSet(raw, s, add)
          else if (p.name === 'style' && raw.includes('url(') && !/\{\{|\$\{/.test(raw)) style(raw, 'css', (x, y, k) => add(s + x, s + y, k))
        } else if (p.type === 7 && p.name === 'bind' && p.exp && /\b(require|import)\(/.test(p.exp.loc.source)) {
          const s = p.exp.loc.start.offset
          if (!script('(' + p.exp.loc.source + ')', 'ts', (x, y, k) => add(s + x - 1, s + y - 1, k))) leave(s, p.exp.loc.end.offset)
        }
      }
    }
    for (const c of n.children ?? []) if (typeof c === 'object') walk(c)
    for (const c of n.branches ?? []) walk(c)
  }
  if (t?.ast) walk(t.ast)
  return true
}

const addresses = {
  img: ['src'], source: ['src'], video: ['src', 'poster'], audio: ['src'], track: ['src'], embed: ['src'], iframe: ['src'], input: ['src'], object: ['data'],
  link: ['href'], script: ['src'], a: ['href'], area: ['href'], use: ['href', 'xlink:href'], image: ['href', 'xlink:href', 'src'], body: ['background'],
}
const scripts = ['', 'module', 'text/javascript', 'application/javascript', 'text/babel', 'text/jsx', 'text/typescript', 'application/x-javascript']

function page(text, add, leave) {
  const doc = parse5.parse(text, { sourceCodeLocationInfo: true, scriptingEnabled: false })
  const walk = (n) => {
    const loc = n.sourceCodeLocation
    if (n.tagName && loc?.startTag !== undefined ? loc.startTag || loc.attrs : loc?.attrs) {
      const where = loc.attrs ?? loc.startTag?.attrs ?? {}
      const written = (text.slice((loc.startTag ?? loc).startOffset + 1).match(/^[^\s/>]*/) ?? [''])[0].toLowerCase()
      for (const a of n.attrs) {
        const name = (a.prefix ? a.prefix + ':' : '') + a.name
        const l = where[name] ?? where[a.name]
        if (!l) continue
        const whole = text.slice(l.startOffset, l.endOffset)
        const eq = whole.indexOf('=')
        if (eq < 0) continue
        let s = eq + 1
        while (/\s/.test(whole[s] ?? 'x')) s++
        let raw = whole.slice(s)
        if (/^["']/.test(raw)) { s++; raw = raw.slice(1, -1) }
        s += l.startOffset
        if (addresses[written]?.includes(name.toLowerCase())) trimmed(raw, s, add)
        else if (name === 'srcset' && (written === 'img' || written === 'source') || name === 'imagesrcset' && written === 'link') sourceSet(raw, s, add)
        else if (name === 'style' && raw.includes('url(') && !/\{\{|<%|\{%|\$\{/.test(raw) && /^["']/.test(whole.slice(eq + 1).trim())) {
          try { style(raw, 'css', (x, y, k) => add(s + x, s + y, k)) } catch { leave(s, s + raw.length) }
        }
      }
    }
    if ((n.tagName === 'script' || n.tagName === 'style') && n.namespaceURI === 'http://www.w3.org/1999/xhtml' && n.childNodes[0]?.sourceCodeLocation) {
      const { startOffset: s, endOffset: e } = n.childNodes[0].sourceCodeLocation
      const type = (n.attrs.find((a) => a.name === 'type')?.value ?? '').trim().toLowerCase()
      const lang = n.attrs.find((a) => a.name === 'lang')?.value ?? ''
      if (n.tagName === 'style') { if (lang === '') try { style(text.slice(s, e), 'css', (x, y, k) => add(s + x, s + y, k)) } catch { leave(s, e) } }
      else if (type === 'importmap') {
        const sf = ts.parseJsonText('x.json', text.slice(s, e))
        const strings = (v) => { if (ts.isStringLiteral(v)) { if (local(v.text)) add(s + v.getStart(sf) + 1, s + v.end - 1, 'asset') } else if (ts.isObjectLiteralExpression(v)) v.properties.forEach((p) => strings(p.initializer)) }
        for (const p of sf.statements[0]?.expression?.properties ?? []) if (['imports', 'scopes'].includes(p.name.text)) strings(p.initializer)
      } else if (scripts.includes(type) && !script(text.slice(s, e), lang || 'js', (x, y, k) => add(s + x, s + y, k), true)) leave(s, e)
    }
    for (const c of n.childNodes ?? []) walk(c)
    if (n.content) walk(n.content)
  }
  walk(doc)
}

function parse(file) {
  const bytes = fs.readFileSync(file)
  let text = bytes.toString('utf8')
  if (Buffer.byteLength(text) !== bytes.length) return { f: file, skip: 'not UTF-8' }
  const mark = text.charCodeAt(0) === 0xfeff
  if (mark) text = text.slice(1)
  const offset = new Uint32Array(text.length + 1)
  offset[0] = mark ? 3 : 0
  for (let i = 0, b = offset[0]; i < text.length; i++) {
    offset[i] = b
    const c = text.charCodeAt(i)
    b += c < 0x80 ? 1 : c < 0x800 ? 2 : c >= 0xd800 && c < 0xdc00 ? 3 : c >= 0xdc00 && c < 0xe000 ? 1 : 3
    offset[i + 1] = b
  }
  const out = { f: file, m: [], out: [] }
  const add = (s, e, k) => out.m.push([offset[s], offset[e], k])
  const leave = (s, e) => out.out.push([offset[s], offset[e]])
  const ext = path.extname(file).slice(1)
  try {
    if (ext === 'vue') { if (!component(text, file, add, leave)) return { f: file, skip: 'syntax' } }
    else if (ext === 'html' || ext === 'htm') page(text, add, leave)
    else style(text, ext, add)
  } catch (e) {
    return { f: file, skip: e.name === 'CssSyntaxError' ? 'syntax' : 'the parser failed: ' + String(e.message).slice(0, 60) }
  }
  return out
}

const files = fs.readFileSync(list, 'utf8').split('\n').filter(Boolean)
for (let i = part; i < files.length; i += parts) fs.writeSync(1, JSON.stringify(parse(files[i])) + '\n')
