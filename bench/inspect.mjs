/**
 * What a person waits for in the inspector of a site of 100,000 entries, measured in a browser: the first view once the site is
 * read, filters, and rows that are blank while one scrolls. `node bench/inspect.mjs [COUNT]`, after `npm run build`.
 */
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium } from 'playwright-core'
import { createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { startInspector } from '../packages/zinc-pantry/dist/bundle/inspect.js'
import { findChromium } from '../scripts/chromium.mjs'

const count = Number(process.argv[2] ?? 100_000)
const root = mkdtempSync(join(tmpdir(), 'pantry-inspect-'))

/** The same numbers every time. */
let state = 7
const random = (below) => {
  state = (Math.imul(state, 1103515245) + 12345) >>> 0
  return Math.floor((state / 2 ** 32) * below)
}
const WORDS =
  'fell beck tarn ridge door stony otter cairn ledge wind raven salt marsh shingle birk yew barley ford'.split(' ')
const word = () => WORDS[random(WORDS.length)]

function writeSite() {
  mkdirSync(join(root, 'content'))
  symlinkSync(fileURLToPath(new URL('../node_modules', import.meta.url)), join(root, 'node_modules'))
  const day = () =>
    `20${10 + random(16)}-${String(1 + random(12)).padStart(2, '0')}-${String(1 + random(28)).padStart(2, '0')}`
  const rows = Array.from({ length: count }, (_, at) =>
    [
      `t${at}`,
      `${word()} ${word()} ${at}`,
      `region-${random(40)}`,
      ['easy', 'moderate', 'hard'][random(3)],
      random(400) / 10,
      random(1800),
      day(),
      `${word()}; ${word()}`,
    ].join(','),
  )
  writeFileSync(
    join(root, 'content/trails.csv'),
    ['id,title,region,grade,distance,ascent,opened,tags', ...rows, ''].join('\n'),
  )
  writeFileSync(
    join(root, 'content/regions.yaml'),
    Array.from({ length: 40 }, (_, at) => `region-${at}:\n  name: Region ${at}\n`).join(''),
  )
  writeFileSync(
    join(root, 'pantry.config.ts'),
    `import { choice, date, int, list, number, pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  regions: { files: 'regions.yaml', fields: { name: text() } },
  trails: { files: 'trails.csv', fields: { title: text(), region: ref('regions'), grade: choice(['easy', 'moderate', 'hard']),
    distance: number(), ascent: int(), opened: date(), tags: list(text()) } },
} })
`,
  )
}

const median = (numbers) => numbers.toSorted((a, b) => a - b)[Math.floor(numbers.length / 2)]
const tell = (name, value) => console.log(`${name.padEnd(52)} ${value}`)

writeSite()
const inspector = await startInspector({
  host: createNodeHost(root),
  configurationFile: 'pantry.config.ts',
  name: 'bench',
  port: 0,
})
const browser = await chromium.launch({ executablePath: findChromium(), args: ['--no-sandbox', '--disable-gpu'] })
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const started = performance.now()
  await page.goto(inspector.address)
  await page.waitForSelector('main h1', { timeout: 300_000 })
  tell(
    `cold: ${count.toLocaleString('en-US')} entries are read and shown, s`,
    ((performance.now() - started) / 1000).toFixed(1),
  )
  const [base] = inspector.address.split('/#')
  const open = async (path, selector) => {
    const from = performance.now()
    await page.goto(base + path)
    await page.waitForSelector(selector, { timeout: 300_000 })
    return performance.now() - from
  }
  await open('/collection?name=trails', '.table [role=cell] a')
  // What is made ready while nobody asks, and what is loaded behind the first rows.
  await page.waitForTimeout(15_000)
  const overviews = []
  const tables = []
  for (let round = 0; round < 5; round++) {
    overviews.push(await open('/', 'main table'))
    tables.push(await open('/collection?name=trails', '.table [role=cell] a'))
  }
  tell('warm: the overview from an empty page, ms', median(overviews).toFixed(0))
  tell('warm: the table from an empty page, ms', median(tables).toFixed(0))
  const filters = []
  for (const label of ['hard', 'easy', 'hard', 'easy', 'moderate', 'moderate']) {
    filters.push(
      await page.evaluate(async (wanted) => {
        const box = [...document.querySelectorAll('.filter-list label')].find((one) =>
          one.textContent.startsWith(wanted),
        )
        const before = document.querySelector('h1').textContent
        const from = performance.now()
        box.querySelector('input').click()
        while (document.querySelector('h1').textContent === before)
          await new Promise((resolve) => requestAnimationFrame(resolve))
        return performance.now() - from
      }, label),
    )
  }
  tell(
    'a filter by a value, to the new rows on the screen, ms',
    `${median(filters).toFixed(0)} (largest ${Math.max(...filters).toFixed(0)})`,
  )
  await page.waitForTimeout(4_000)
  const scrolled = await page.evaluate(async () => {
    const table = document.querySelector('.table')
    const rowsNow = () => [...table.querySelectorAll('[role=row]')].slice(1)
    let [frames, blankFrames, blankRows] = [0, 0, 0]
    const bounds = table.getBoundingClientRect()
    const from = performance.now()
    const speed = 40
    while (performance.now() - from < 4_000) {
      table.scrollTop = (performance.now() - from) * speed
      await new Promise((resolve) => requestAnimationFrame(resolve))
      frames++
      const seen = rowsNow().filter((row) => {
        const { top, bottom } = row.getBoundingClientRect()
        return bottom > bounds.top + 32 && top < bounds.bottom
      })
      const blank = seen.filter((row) => row.classList.contains('blank')).length
      const covered = seen.length * 32 >= bounds.height - 96
      if (blank > 0 || !covered) blankFrames++
      blankRows += blank
    }
    return { frames, blankFrames, blankRows }
  })
  tell(
    'scrolling at 40,000 px/s: frames, with a gap, blank rows',
    `${scrolled.frames}, ${scrolled.blankFrames}, ${scrolled.blankRows}`,
  )
  const memory = await page.evaluate(() => performance.memory?.usedJSHeapSize ?? 0)
  tell('memory of the page, MB', (memory / 1e6).toFixed(0))
} finally {
  await browser.close()
  await inspector.close()
  rmSync(root, { recursive: true, force: true })
}
