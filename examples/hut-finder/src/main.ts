import { huts, trails } from '#pantry'
import './style.css'
import { writeCondition } from 'zinc-pantry/query'
import { type Found, find, PER_PAGE } from './find.ts'
import { readState, type State, writeState } from './state.ts'

const form = document.querySelector('form') as HTMLFormElement
const one = <Found extends Element>(selector: string): Found => form.querySelector(selector) as Found
const names = new Map([
  ...(await huts.toArray()).map(({ id, name }) => [id as string, name] as const),
  ...(await trails.toArray()).map(({ id, title }) => [id as string, title] as const),
])
const count = (number: number): string => number.toLocaleString('en-GB')

function create(name: string, text = '', attributes: Readonly<Record<string, string>> = {}): HTMLElement {
  const element = document.createElement(name)
  element.textContent = text
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value)
  return element
}

/** What was loaded over the network so far. */
function loaded(): { bytes: number; requests: number } {
  const resources = performance.getEntriesByType('resource') as PerformanceResourceTiming[]
  const own = resources.filter(({ name }) => /\/(?:pantry|assets|generated)\//.test(new URL(name).pathname))
  return { bytes: own.reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0), requests: own.length }
}

/** Puts what is asked into the form. */
function fill(state: State): void {
  for (const name of ['words', 'from', 'until', 'party', 'sort'] as const)
    one<HTMLInputElement>(`[name="${name}"]`).value = state[name]
}

/** Reads what is asked from the form; whatever is changed leads to the first page. */
function readForm(): State {
  const search = new URLSearchParams()
  for (const [name, value] of new FormData(form)) if (value !== '') search.append(name, String(value))
  return readState(search.toString())
}

function drawFacet(
  name: 'hut' | 'weather' | 'stars',
  counts: readonly { value: string | number; count: number }[],
  state: State,
): void {
  const box = one<HTMLElement>(`[data-facet="${name}"]`)
  const focused = box.contains(document.activeElement) ? (document.activeElement as HTMLInputElement).value : undefined
  const chosen = new Set(state[name])
  const missing = [...chosen].filter((value) => !counts.some((one) => String(one.value) === value))
  const all = [...counts, ...missing.map((value) => ({ value, count: 0 }))]
  const rows = all.map(({ value, count: found }) => {
    const label = create('label')
    const input = create('input', '', { type: 'checkbox', name, value: String(value) }) as HTMLInputElement
    input.checked = chosen.has(String(value))
    const text = name === 'stars' ? '★'.repeat(Number(value)) : (names.get(String(value)) ?? String(value))
    const shown = create('span', text, name === 'stars' ? { 'aria-label': `${value} stars`, role: 'img' } : {})
    label.append(input, shown, create('output', count(found)))
    return label
  })
  box.replaceChildren(box.querySelector('legend') as Element, ...rows)
  // The boxes are drawn anew; whoever is at one with the keyboard stays there.
  if (focused !== undefined) box.querySelector<HTMLInputElement>(`[value="${CSS.escape(focused)}"]`)?.focus()
}

function drawNotes({ notes }: Found): void {
  const items = notes.map(({ note, pieces }) => {
    const item = create('li')
    const text = create('p')
    text.append(...pieces.map((piece) => (piece.isMatch ? create('mark', piece.text) : piece.text)))
    const { hut, trail, on, stars, party, weather, id } = note
    const facts = `${names.get(trail)} · ${weather} · party of ${party}`
    const head = create('h2', names.get(hut) ?? hut)
    const rating = create('span', '★'.repeat(stars), { class: 'stars', 'aria-label': `${stars} stars`, role: 'img' })
    item.dataset.id = id
    item.append(head, create('time', on, { datetime: on }), rating, text, create('p', facts, { class: 'facts' }))
    return item
  })
  one('.notes').replaceChildren(...items)
}

function drawPlan({ plan }: Found, before: ReturnType<typeof loaded>, milliseconds: number): void {
  const rows = plan.steps.map(({ index, rows: found, part }) => [index, count(found), writeCondition(part)])
  if (plan.order !== undefined) rows.push([plan.order, '', 'the order'])
  const cells = rows.map((row) => {
    const line = create('tr')
    line.append(...row.map((text) => create('td', text)))
    return line
  })
  one('.plan tbody').replaceChildren(...cells)
  one<HTMLElement>('.plan table').hidden = cells.length === 0
  const now = loaded()
  const tested =
    plan.examined > 0 ? `${count(plan.examined)} notes tested${plan.isScan ? ', no index fits' : ''}; ` : ''
  const bytes = count(Math.round((now.bytes - before.bytes) / 1024))
  one('.plan p').textContent =
    `${tested}${milliseconds.toFixed(0)} ms, ${bytes} KB in ${now.requests - before.requests} requests; ${count(Math.round(now.bytes / 1024))} KB since the page was opened.`
}

let asked = 0

/** Answers and draws; an answer that comes late is passed over. */
async function show(state: State): Promise<void> {
  const own = ++asked
  const before = loaded()
  const started = performance.now()
  const found = await find(state)
  if (own !== asked) return
  const pages = Math.max(1, Math.ceil(found.total / PER_PAGE))
  for (const name of ['hut', 'weather', 'stars'] as const) drawFacet(name, found.facets[name], state)
  one('.total').textContent = found.total === 1 ? '1 note' : `${count(found.total)} notes`
  drawNotes(found)
  one('.pages span').textContent = `Page ${count(state.page)} of ${count(pages)}`
  one<HTMLButtonElement>('[data-step="-1"]').disabled = state.page <= 1
  one<HTMLButtonElement>('[data-step="1"]').disabled = state.page >= pages
  drawPlan(found, before, performance.now() - started)
  form.dataset.shown = writeState(state)
}

const current = (): State => readState(window.location.search)

function go(state: State, isNew: boolean): void {
  const address = window.location.pathname + writeState(state)
  if (isNew) window.history.pushState(null, '', address)
  else window.history.replaceState(null, '', address)
  void show(state)
}

form.addEventListener('input', (event) => go(readForm(), (event.target as HTMLElement).id !== 'words'))
form.addEventListener('submit', (event) => event.preventDefault())
form.addEventListener('reset', () => window.setTimeout(() => go(readState(''), true)))
for (const button of form.querySelectorAll<HTMLButtonElement>('[data-step]'))
  button.addEventListener('click', () => {
    go({ ...current(), page: current().page + Number(button.dataset.step) }, true)
    one('.total').scrollIntoView()
  })
window.addEventListener('popstate', () => {
  fill(current())
  void show(current())
})
window.addEventListener('zinc-pantry:change', (event) => {
  event.preventDefault()
  void show(current())
})
fill(current())
await show(current())
