// Reads file paths, one a line, and prints one JSON line for each: what the TypeScript compiler's own parser says of the
// file's specifiers and its lexical structure. Offsets are bytes. A file with syntax errors is only named.
//
//   node parse.cjs LIST PART PARTS    handles the lines whose number is PART modulo PARTS
const fs = require('fs')
const ts = require(require.resolve('typescript', { paths: [process.cwd()] }))
const K = ts.SyntaxKind
const [list, part, parts] = [process.argv[2], +process.argv[3], +process.argv[4]]

function scriptKind(file) {
  if (/\.tsx$/.test(file)) return ts.ScriptKind.TSX
  if (/\.[cm]?ts$/.test(file)) return ts.ScriptKind.TS
  return ts.ScriptKind.JSX
}

// Maps UTF-16 offsets to byte offsets; null where they are the same.
function byteOffsets(text, size) {
  if (text.length === size) return null
  const map = new Uint32Array(text.length + 1)
  let b = 0
  for (let i = 0; i < text.length; i++) {
    map[i] = b
    const c = text.charCodeAt(i)
    if (c < 0x80) b += 1
    else if (c < 0x800) b += 2
    else if (c >= 0xd800 && c < 0xdc00) b += 3
    else if (c >= 0xdc00 && c < 0xe000) b += 1
    else b += 3
  }
  map[text.length] = b
  return map
}

function parse(file) {
  const bytes = fs.readFileSync(file)
  const text = bytes.toString('utf8')
  if (Buffer.byteLength(text) !== bytes.length) return { f: file, skip: 'not UTF-8' }
  const sf = ts.createSourceFile(file, text, { languageVersion: ts.ScriptTarget.Latest, jsDocParsingMode: ts.JSDocParsingMode.ParseNone }, false, scriptKind(file))
  if (sf.parseDiagnostics.length) return { f: file, skip: 'syntax' }
  const map = byteOffsets(text, bytes.length)
  const at = (i) => (map ? map[i] : i)
  const out = { f: file, m: [], r: [], j: [], t: [] }
  const literal = (node, kind) => {
    if (node && ts.isStringLiteralLike(node)) out.m.push([at(node.getStart(sf) + 1), at(node.end - 1), kind])
  }
  const visit = (node) => {
    switch (node.kind) {
      case K.ImportDeclaration: literal(node.moduleSpecifier, 'import'); break
      case K.ExportDeclaration: literal(node.moduleSpecifier, 'export'); break
      case K.ExternalModuleReference: literal(node.expression, 'require'); break
      case K.ImportType: if (node.argument.kind === K.LiteralType) literal(node.argument.literal, 'dynamic import'); break
      case K.ModuleDeclaration: if (node.name.kind === K.StringLiteral) literal(node.name, 'declare module'); break
      case K.CallExpression: {
        const e = node.expression
        if (node.questionDotToken) break
        if (e.kind === K.ImportKeyword || (e.kind === K.MetaProperty && e.keywordToken === K.ImportKeyword)) literal(node.arguments[0], 'dynamic import')
        else if (e.kind === K.Identifier && e.text === 'require') literal(node.arguments[0], 'require')
        else if (e.kind === K.PropertyAccessExpression && !e.questionDotToken && e.name.text === 'resolve' && e.expression.kind === K.Identifier && e.expression.text === 'require') literal(node.arguments[0], 'require.resolve')
        break
      }
      case K.RegularExpressionLiteral: out.r.push([at(node.getStart(sf)), at(node.end)]); break
      case K.JsxOpeningElement: case K.JsxSelfClosingElement: case K.JsxOpeningFragment: out.j.push(at(node.getStart(sf))); break
      case K.NoSubstitutionTemplateLiteral: case K.TemplateHead: case K.TemplateMiddle: case K.TemplateTail:
        out.t.push([at(node.getStart(sf)), at(node.end)]); break
    }
    ts.forEachChild(node, visit)
  }
  visit(sf)
  for (const r of sf.referencedFiles) out.m.push([at(r.pos), at(r.end), 'reference path'])
  for (const r of sf.typeReferenceDirectives) out.m.push([at(r.pos), at(r.end), 'reference types'])
  return out
}

const files = fs.readFileSync(list, 'utf8').split('\n').filter(Boolean)
let buffer = []
for (let i = part; i < files.length; i += parts) {
  let line
  try { line = parse(files[i]) } catch (e) { line = { f: files[i], skip: String(e.message).slice(0, 80) } }
  buffer.push(JSON.stringify(line))
  if (buffer.length === 200) { fs.writeSync(1, buffer.join('\n') + '\n'); buffer = [] }
}
if (buffer.length) fs.writeSync(1, buffer.join('\n') + '\n')
