// Opens the page of crooked map in a browser without a network, and uses it as a person does: by mouse and by keys. The
// arguments are the page and the folder with playwright-core. It prints what went wrong, and nothing otherwise.
import { pathToFileURL } from 'node:url'
import { createRequire } from 'node:module'

const [page, modules] = process.argv.slice(2)
const { chromium } = createRequire(`${modules}/x.js`)('playwright-core')
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM, args: ['--no-sandbox', '--disable-gpu'] })
const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const wrong = []
const must = (holds, what) => holds || wrong.push(what)
tab.on('pageerror', (e) => wrong.push(`error: ${e.message}`))
tab.on('console', (m) => m.type() === 'error' && wrong.push(`console: ${m.text()}`))
tab.on('request', (r) => r.url() !== pathToFileURL(page).href && wrong.push(`it asks for ${r.url()}`))
tab.on('dialog', (d) => { wrong.push(`dialog: ${d.message()}`); d.dismiss() })
await tab.goto(pathToFileURL(page).href)

const text = (selector) => tab.locator(selector).first().innerText()
const count = (selector) => tab.locator(selector).count()
const all = Number((await text('#found')).split(' ')[0])
must(all > 0, 'no files are counted')
must(await count('#now [role=treeitem]') > 0 && await count('#then [role=treeitem]') > 0, 'a tree is empty')
must(await count('[role=treeitem]') <= 400, 'too many rows are open at first')
must(await tab.locator('script[src], link[rel=stylesheet], img').count() === 0, 'it is not one file')

await tab.fill('#query', process.env.SEARCH)
must((await text('#found')).startsWith(`${process.env.FOUND} of ${all}`), `the search finds ${await text('#found')}`)
const hit = tab.locator('#now [data-file]').first()
await hit.click()
must((await text('#details')).includes(process.env.SEARCH), 'a click shows no details')
must(await hit.getAttribute('aria-selected') === 'true', 'what was clicked is not marked')
const user = tab.locator('#details [data-go]').first()
if (await user.count()) {
  const name = await user.innerText()
  await user.click()
  must((await text('#details')).includes(name.split('/').pop()), 'a reference is not followed')
}
await tab.click('#clear')
must(await text('#found') === `${all} files`, 'clear does not clear')

await tab.click('[data-view=now]')
must(await tab.locator('#then').isHidden() && await tab.locator('#now').isVisible(), 'the view is not switched')
await tab.locator('h1').click()
await tab.keyboard.press('t')
must(await tab.locator('#now').isHidden() && await tab.locator('#then').isVisible(), 'the key t does not switch')
await tab.keyboard.press('b')

const folder = tab.locator('#then [data-folder]').first()
await folder.focus()
const name = await folder.getAttribute('data-folder')
const before = await folder.getAttribute('aria-expanded')
await tab.keyboard.press('Enter')
const again = tab.locator(`#then [data-folder="${name}"]`)
must(await again.getAttribute('aria-expanded') !== before, 'enter does not open or close a folder')
await tab.keyboard.press('ArrowDown')
must(await tab.evaluate(() => document.activeElement.getAttribute('role')) === 'treeitem', 'an arrow leaves the tree')
await tab.keyboard.press('/')
must(await tab.evaluate(() => document.activeElement.id) === 'query', 'the key / does not go to the search')
await tab.keyboard.press('Escape')

for (const id of ['shelf', 'rule']) {
  const value = await tab.locator(`#${id} option`).nth(1).getAttribute('value').catch(() => null)
  if (!value) continue
  await tab.selectOption(`#${id}`, value)
  must(/^\d+ of/.test(await text('#found')), `the filter ${id} does nothing`)
  await tab.click('#clear')
}
const ground = () => tab.evaluate(() => getComputedStyle(document.body).backgroundColor)
const light = await ground()
await tab.click('#theme')
must(await ground() !== light, 'the theme is not switched')

// every text is at least 4.5 times as bright or dark as its ground (WCAG 2.1, 1.4.3), in both themes
const faint = () => tab.evaluate(() => {
  const channel = (v) => (v /= 255) <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4
  const light = (c) => { const [r, g, b] = c.match(/\d+(\.\d+)?/g).map(Number); return 0.2126 * channel(r) + 0.7152 * channel(g) + 0.0722 * channel(b) }
  const behind = (n) => { for (; n; n = n.parentElement) { const c = getComputedStyle(n).backgroundColor; if (!/, 0\)$/.test(c)) return c } return 'rgb(255,255,255)' }
  return [...document.querySelectorAll('.name,.quiet,.count,.crooked,.finding,.sign,h1,h2,#found,footer,button,select')].filter((n) => {
    const [a, b] = [light(getComputedStyle(n).color), light(behind(n))].sort((x, y) => y - x)
    return n.textContent.trim() && (a + 0.05) / (b + 0.05) < 4.5
  }).slice(0, 3).map((n) => `${n.className || n.tagName}: ${n.textContent.slice(0, 30)}`)
})
for (const one of await faint()) wrong.push(`too faint in the dark: ${one}`)
await tab.click('#theme')
for (const one of await faint()) wrong.push(`too faint in the light: ${one}`)
if (process.env.SHOT) await tab.screenshot({ path: process.env.SHOT })
await browser.close()
for (const line of wrong) console.log(line)
