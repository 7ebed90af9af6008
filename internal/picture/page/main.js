// The page of crooked map: two trees of one project, now and then, with a strip of its folders above, a search, filters and
// the details of one file. All texts come from the project and are set as texts, never as markup.
import { hierarchy, partition } from 'd3-hierarchy'

const map = JSON.parse(document.getElementById('map').textContent)
const signs = { home: '✓', crooked: '↷', homeless: '✕', left: '·', unspoken: '·' }
const words = {
  home: 'stands where it belongs', crooked: 'lies elsewhere than it belongs', homeless: 'no shelf takes it',
  left: 'is left alone', unspoken: 'no rule speaks of it',
}
const shelves = new Map(map.shelves.map((s) => [s.name, s]))
const $ = (id) => document.getElementById(id)
const state = { query: '', shelf: '', rule: '', view: map.now ? 'now' : 'both', within: '', chosen: -1 }

function make(tag, attributes, ...children) {
  const node = document.createElement(tag)
  for (const [key, value] of Object.entries(attributes || {})) node.setAttribute(key, value)
  for (const child of children) node.append(child)
  return node
}

// folders makes the tree of one view: a folder has below it folders by name, then files.
function folders(view) {
  const root = { name: '', path: '', folders: new Map(), files: [] }
  map.files.forEach((file, index) => {
    const stands = view === 'now' ? file.path : file.home
    let folder = root
    const parts = stands.split('/')
    parts.slice(0, -1).forEach((part, i) => {
      if (!folder.folders.has(part)) {
        folder.folders.set(part, { name: part, path: parts.slice(0, i + 1).join('/') + '/', folders: new Map(), files: [] })
      }
      folder = folder.folders.get(part)
    })
    folder.files.push({ name: parts[parts.length - 1], path: stands, index })
  })
  return hierarchy(root, (d) => d.folders && [...sorted(d.folders.values()), ...sorted(d.files)])
    .sum((d) => (d.index === undefined ? 0 : 1))
}

const sorted = (list) => [...list].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))

// shown says whether a file is among those that are looked for.
function shown(file) {
  const query = state.query.toLowerCase()
  return (!query || file.path.toLowerCase().includes(query) || file.home.toLowerCase().includes(query)) &&
    (!state.shelf || file.shelf === state.shelf) &&
    (!state.rule || (state.rule === 'misplaced' ? file.state === 'crooked' : (file.findings || []).some((f) => f.rule === state.rule))) &&
    (!state.within || file.path.startsWith(state.within) || file.home.startsWith(state.within))
}

const trees = { now: folders('now'), then: folders('then') }
const open = { now: new Set(), then: new Set() }
const filtered = () => Boolean(state.query || state.shelf || state.rule || state.within)

// A large project begins closed: folders are opened from the top as long as few rows are shown.
for (const view of ['now', 'then']) {
  let rows = trees[view].children ? trees[view].children.length : 0
  for (const node of trees[view].descendants()) {
    if (node.depth === 0 || !node.children) continue
    rows += node.children.length
    if (rows > 60 || node.depth > 2) break
    open[view].add(node.data.path)
  }
}

function draw() {
  const matches = map.files.map(shown)
  for (const view of ['now', 'then']) {
    const tree = $(view).querySelector('ul')
    tree.replaceChildren(...rows(trees[view], view, matches))
    $(view).hidden = state.view !== 'both' && state.view !== view
  }
  const found = matches.filter(Boolean).length
  $('found').textContent = filtered() ? `${found} of ${map.files.length} files` : `${map.files.length} files`
  for (const button of document.querySelectorAll('[data-view]')) {
    button.setAttribute('aria-pressed', String(button.dataset.view === state.view))
  }
  $('panes').className = state.view
  $('within').hidden = !state.within
  $('within').textContent = state.within ? `${state.within} ✕` : ''
  const first = document.querySelector('[role=treeitem]:not([hidden])')
  if (first && !document.querySelector('[role=treeitem][tabindex="0"]')) first.tabIndex = 0
}

// rows are the items below a node; closed folders have none until they are opened.
function rows(node, view, matches) {
  const out = []
  for (const child of node.children || []) {
    const data = child.data
    if (data.index !== undefined) {
      if (matches[data.index]) out.push(fileRow(data, view))
      continue
    }
    const inside = child.leaves().filter((leaf) => leaf.data.index !== undefined && matches[leaf.data.index])
    if (inside.length === 0) continue
    const isOpen = open[view].has(data.path) || (filtered() && inside.length <= 40)
    const crooked = inside.filter((leaf) => map.files[leaf.data.index].state === 'crooked').length
    const label = make('span', { class: 'row' }, make('span', { class: 'twist', 'aria-hidden': 'true' }, isOpen ? '▾' : '▸'),
      make('span', { class: 'name' }, data.name + '/'), make('span', { class: 'count' }, String(inside.length)))
    if (crooked) label.append(make('span', { class: 'crooked' }, view === 'now' ? `↷ ${crooked} go` : `↷ ${crooked} come`))
    const purpose = view === 'then' && map.purposes[data.path.replace(/\/$/, '')]
    if (purpose) label.append(make('span', { class: 'quiet' }, purpose))
    const item = make('li', { role: 'treeitem', 'aria-expanded': String(isOpen), tabindex: '-1', 'data-folder': data.path, 'data-tree': view }, label)
    if (isOpen) item.append(make('ul', { role: 'group' }, ...rows(child, view, matches)))
    out.push(item)
  }
  return out
}

function fileRow(data, view) {
  const file = map.files[data.index]
  const label = make('span', { class: 'row', title: view === 'now' ? file.home : file.path }, make('span', { class: `sign ${file.state}`, title: words[file.state] }, signs[file.state]),
    make('span', { class: 'name' }, data.name))
  if (file.state === 'crooked') label.append(make('span', { class: 'quiet' }, view === 'now' ? `→ ${file.home}` : `← ${file.path}`))
  const findings = (file.findings || []).length
  if (findings) label.append(make('span', { class: 'finding' }, `! ${findings}`))
  return make('li', { role: 'treeitem', tabindex: '-1', 'data-file': String(data.index), 'data-tree': view,
    'aria-selected': String(data.index === state.chosen), 'aria-label': `${data.name}, ${words[file.state]}` }, label)
}

// strip draws the folders then, as wide as they have files; a click shows one alone.
function strip() {
  const shownRoot = hierarchy(trees.then.data, (d) => d.folders && sorted(d.folders.values())).sum((d) => (d.files ? d.files.length : 0))
  const root = partition().size([1000, 3])(shownRoot)
  const names = [...shelves.keys()]
  const svg = $('strip')
  for (const node of root.descendants()) {
    if (node.depth === 0 || node.depth > 2 || node.x1 - node.x0 < 2) continue
    const inside = trees.then.descendants().find((d) => d.data.path === node.data.path).leaves()
    const kinds = inside.map((leaf) => names.indexOf(map.files[leaf.data.index].shelf))
    const count = (kind) => kinds.filter((k) => k === kind).length
    const main = [...new Set(kinds)].sort((a, b) => count(b) - count(a))[0]
    const common = count(main) > 0.6 * kinds.length ? main : -1 // a folder of many shelves has no colour of its own
    const box = document.createElementNS(svg.namespaceURI, 'rect')
    for (const [key, value] of Object.entries({ x: node.x0, y: (node.depth - 1) * 26, width: node.x1 - node.x0, height: 25, tabindex: 0,
      role: 'button', class: `box c${common < 0 ? 'x' : common % 8}`, 'data-within': node.data.path })) box.setAttribute(key, value)
    const title = document.createElementNS(svg.namespaceURI, 'title')
    title.textContent = `${node.data.path}: ${node.value} files`
    box.append(title)
    svg.append(box)
    if (node.x1 - node.x0 > 8 * node.data.name.length) {
      const text = document.createElementNS(svg.namespaceURI, 'text')
      for (const [key, value] of Object.entries({ x: node.x0 + 5, y: (node.depth - 1) * 26 + 17, 'aria-hidden': 'true' })) text.setAttribute(key, value)
      text.textContent = node.data.name
      svg.append(text)
    }
  }
}

function choose(index) {
  state.chosen = index
  for (const item of document.querySelectorAll('[data-file]')) item.setAttribute('aria-selected', String(Number(item.dataset.file) === index))
  const file = map.files[index]
  const lines = [make('h2', {}, file.path.split('/').pop()), make('p', { class: `state ${file.state}` }, `${signs[file.state]} ${words[file.state]}`)]
  const table = make('dl', {})
  const tell = (key, value) => value && table.append(make('dt', {}, key), make('dd', {}, value))
  tell('lies at', file.path)
  if (file.state === 'crooked') tell('belongs at', file.home)
  const shelf = shelves.get(file.shelf)
  if (shelf) tell('shelf', shelf.for ? `${shelf.name}: ${shelf.for}` : shelf.name)
  if (file.line) tell('says', `crooked.yaml:${file.line}`)
  tell('because', file.why)
  lines.push(table)
  if ((file.findings || []).length) {
    lines.push(make('h3', {}, 'found in it'), make('ul', {}, ...file.findings.map((f) => make('li', {}, make('b', {}, f.rule), ` ${f.at || ''} ${f.reason}`))))
  }
  for (const [title, list] of [['used by', file.users || []], ['uses', file.uses || []]]) {
    lines.push(make('h3', {}, `${title} ${list.length}`))
    lines.push(make('ul', {}, ...list.map((other) => make('li', {}, make('button', { 'data-go': String(other) }, map.files[other].path)))))
  }
  $('details').replaceChildren(...lines)
  $('details').hidden = false
}

// reveal opens the folders of a file in both trees and shows it.
function reveal(index) {
  for (const view of ['now', 'then']) {
    const parts = (view === 'now' ? map.files[index].path : map.files[index].home).split('/')
    parts.slice(0, -1).forEach((_, i) => open[view].add(parts.slice(0, i + 1).join('/') + '/'))
  }
  if (!shown(map.files[index])) clear()
  draw()
  choose(index)
  const item = document.querySelector(`section:not([hidden]) [data-file="${index}"]`)
  if (item) focusOn(item)
}

function clear() {
  Object.assign(state, { query: '', shelf: '', rule: '', within: '' })
  $('query').value = $('shelf').value = $('rule').value = ''
}

function toggle(item) {
  const { folder, tree } = item.dataset
  if (open[tree].has(folder)) open[tree].delete(folder)
  else open[tree].add(folder)
  draw()
  const again = document.querySelector(`[data-tree="${tree}"][data-folder="${CSS.escape(folder)}"]`)
  if (again) focusOn(again)
}

function focusOn(item) {
  for (const other of document.querySelectorAll('[role=treeitem][tabindex="0"]')) other.tabIndex = -1
  item.tabIndex = 0
  item.focus()
  item.scrollIntoView({ block: 'nearest' })
}

document.addEventListener('click', (event) => {
  const target = event.target.closest('[data-go],[data-view],[data-within],[role=treeitem],#within,#theme,#clear')
  if (!target) return
  if (target.dataset.go) reveal(Number(target.dataset.go))
  else if (target.dataset.view) { state.view = target.dataset.view; draw() }
  else if (target.dataset.within) { state.within = target.dataset.within; draw() }
  else if (target.id === 'within') { state.within = ''; draw() }
  else if (target.id === 'clear') { clear(); draw() }
  else if (target.id === 'theme') document.documentElement.dataset.theme = dark() ? 'light' : 'dark'
  else if (target.dataset.folder !== undefined) toggle(target)
  else { focusOn(target); choose(Number(target.dataset.file)) }
})

const dark = () => (document.documentElement.dataset.theme || (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')) === 'dark'

document.addEventListener('keydown', (event) => {
  if (event.target.matches('input,select')) {
    if (event.key === 'Escape') { clear(); draw(); event.target.blur() }
    return
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const item = event.target.closest('[role=treeitem]')
  const moves = { ArrowDown: 1, ArrowUp: -1 }
  if (event.key === '/') $('query').focus()
  else if (event.key === 'n' || event.key === 't' || event.key === 'b') { state.view = { n: 'now', t: 'then', b: 'both' }[event.key]; draw() }
  else if (event.target.dataset.within && (event.key === 'Enter' || event.key === ' ')) { state.within = event.target.dataset.within; draw() }
  else if (item && moves[event.key]) {
    const all = [...item.closest('section').querySelectorAll('[role=treeitem]')]
    const next = all[all.indexOf(item) + moves[event.key]]
    if (next) focusOn(next)
  } else if (item && (event.key === 'Enter' || event.key === ' ')) {
    if (item.dataset.folder !== undefined) toggle(item)
    else choose(Number(item.dataset.file))
  } else if (item && event.key === 'ArrowRight' && item.getAttribute('aria-expanded') === 'false') toggle(item)
  else if (item && event.key === 'ArrowLeft') {
    if (item.getAttribute('aria-expanded') === 'true') toggle(item)
    else if (item.parentElement.closest('[role=treeitem]')) focusOn(item.parentElement.closest('[role=treeitem]'))
  } else return
  event.preventDefault()
})

$('query').addEventListener('input', (event) => { state.query = event.target.value; draw() })
for (const [id, list] of [['shelf', map.shelves.map((s) => s.name)], ['rule', map.rules]]) {
  for (const name of list) $(id).append(make('option', { value: name }, name))
  $(id).addEventListener('change', (event) => { state[id] = event.target.value; draw() })
}
strip()
draw()
