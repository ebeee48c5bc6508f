import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { parse as parseYaml } from 'yaml'
import { PNG } from '../../zinc-pantry/test/helpers.ts'
import { launchBrowser } from '../../zinc-pantry/test/launch-browser.ts'
import { audit, type InspectedFolder, openFolder } from './open-inspector.ts'

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser()
})
afterAll(() => browser?.close())

/** The control of a field by its path. */
const at = (path: string): string => `[data-path="${path}"]`

/** Picks an entry by typing a part of what it is called. */
async function pick(page: Page, path: string, typed: string, label: string): Promise<void> {
  const box = page.locator(`${at(path)} [role=combobox]`)
  const option = page.locator('.choices [role=option]').filter({ hasText: label })
  // What scrolls closes the list.
  await box.evaluate((element) => element.scrollIntoView({ block: 'center' }))
  await expect
    .poll(async () => {
      await box.fill('')
      await box.fill(typed)
      // The list moves while it becomes shorter.
      await page.waitForTimeout(200)
      await option.click({ timeout: 3_000 }).catch(() => undefined)
      return box.inputValue()
    })
    .toBe(label)
}

/** Writes what is typed, once it was tried out. */
async function save(page: Page): Promise<void> {
  await page.click('.save-bar button >> text=/^Write it/')
  await page.waitForSelector('.save-bar', { state: 'detached' })
}

const readFront = (text: string): Record<string, unknown> => parseYaml(/^---\n([\s\S]*?\n)---/.exec(text)?.[1] ?? '')

/** A site with a field of every kind. */
const KINDS = {
  'pantry.config.ts': `import { anything, block, choice, colour, date, duration, either, email, file, flag, group, image, instant, int, list, map, markdown, number, pantry, ref, reverse, text, time, url, variant } from 'zinc-pantry'
export default pantry({
  blocks: { note: { fields: { text: text() } }, step: { fields: { of: int(), to: ref('places') } } },
  collections: {
    places: { files: 'places.yaml', fields: { name: text(), all: reverse('all', 'one') } },
    all: { files: 'all/*.yaml', fields: {
      line: text({ lines: 'single' }), lines: text({ maxLength: 400, optional: true }), about: markdown({ optional: true }),
      whole: int({ minimum: 0, optional: true }), number: number({ optional: true }), yes: flag({ default: false }), maybe: flag({ optional: true }),
      word: choice({ a: 'First', b: 'Second' }, { optional: true }), words: list(choice(['x', 'y', 'z']), { optional: true }),
      day: date({ optional: true }), hour: time({ optional: true }), moment: instant({ zone: 'Europe/Oslo', optional: true }), lasts: duration({ optional: true }),
      site: url({ optional: true }), mail: email({ optional: true }), paint: colour({ optional: true }),
      photo: image({ optional: true }), track: file({ optional: true }),
      one: ref('places', { optional: true }), many: list(ref('places'), { optional: true }), texts: list(text(), { optional: true }),
      group: group({ inner: text(), deep: group({ more: int({ optional: true }) }, { optional: true }) }, { optional: true }),
      parts: list(block('note', 'step'), { optional: true }), names: map(text(), { optional: true }), free: anything({ optional: true }),
      advice: either([text(), group({ by: ref('places'), says: text() }, { label: 'a word of a place' })], { optional: true }),
      secret: text({ private: true, optional: true }),
      kind: variant({ walk: { steps: int() }, talk: { slides: flag({ default: false }) } }),
    } },
  },
})
`,
  'content/places.yaml': 'tarn:\n  name: The Tarn\nfell:\n  name: The Fell\nbeck:\n  name: The Beck\n',
  'content/all/one.yaml': '# of the line\nline: One # kept\nkind: walk\nsteps: 3\n',
  'content/pictures/ridge.png': PNG,
  'content/tracks/one.gpx': '<gpx/>\n',
}

describe('A form', () => {
  test('has a control for every kind of field, and what it writes is what another parser reads', async () => {
    const site = await openFolder(KINDS, false)
    const { page, problems } = await site.open(browser, '/entry?name=all/one')
    const fill = (path: string, text: string) => page.fill(`${at(path)} input, ${at(path)} textarea`, text)
    await fill('line', 'Two: "quoted"')
    await fill('lines', 'First line\nSecond line')
    await page.click(`${at('about')} .cm-content`)
    await page.keyboard.type('Some **bold** words')
    await fill('whole', '12')
    await fill('number', '-2.5')
    await page.click(`${at('yes')} [role=switch]`)
    await page.selectOption(`${at('maybe')} select`, 'no')
    await page.selectOption(`${at('word')} select`, { label: 'Second' })
    await page.check(`${at('words')} label >> text=z`)
    await page.check(`${at('words')} label >> text=x`)
    await fill('day', '2026-12-24')
    await fill('hour', '09:30')
    await fill('moment', '2026-12-24T18:00')
    await fill('lasts', 'PT1H30M')
    await fill('site', 'https://fells.example/')
    await fill('mail', 'office@fells.example')
    await page.fill(`${at('paint')} input:not([type=color])`, '#3a6b35')
    await page.click(`${at('photo')} button >> text=Choose`)
    await page.click(`${at('photo')} .file-choice >> text=ridge.png`)
    await page.fill(`${at('photo')} input >> nth=1`, 'The ridge')
    await page.fill(`${at('track')} input`, '/tracks/one.gpx')
    await pick(page, 'one', 'fe', 'The Fell')
    await page.click(`${at('many')} button >> text=Add`)
    await pick(page, 'many.0', 'tarn', 'The Tarn')
    await page.click(`${at('many')} > .items > .pair button`)
    await pick(page, 'many.1', 'beck', 'The Beck')
    for (const [position, text] of ['a', 'b', 'c'].entries()) {
      await page.click(`${at('texts')} > .items > .pair button`)
      await fill(`texts.${position}`, text)
    }
    await page.click(`${at('texts')} [aria-label="Move item 3 up"]`)
    await page.click(`${at('texts')} [aria-label="Take item 1 out"]`)
    await page.click(`${at('group')} > button >> text=Fill it in`)
    await fill('group.inner', 'inside')
    await page.click(`${at('group.deep')} button >> text=Fill it in`)
    await fill('group.deep.more', '7')
    await page.click(`${at('parts')} .pair button >> text=note`)
    await fill('parts.0.text', 'A note')
    await page.click(`${at('parts')} > .items > .pair button >> text=step`)
    await fill('parts.1.of', '2')
    await pick(page, 'parts.1.to', 'tarn', 'The Tarn')
    await page.check(`${at('parts.0')} .block-head input[type=checkbox]`)
    await page.fill(`${at('names')} input[placeholder=key]`, 'no')
    await page.click(`${at('names')} button >> text=Add`)
    await fill('names.no', 'Vannet')
    await fill('free', '{ "a": [1, true] }')
    await page.selectOption(`${at('advice')} select`, { label: 'a word of a place' })
    await pick(page, 'advice.by', 'fell', 'The Fell')
    await fill('advice.says', 'Go on')
    await fill('secret', 'hidden')
    await page.selectOption(`${at('kind')} select`, 'talk')
    await page.waitForSelector(`text=It can be written`)
    await save(page)
    const text = site.file('content/all/one.yaml')
    expect(text).toMatch(/^# of the line\nline: .* # kept\n/)
    expect(parseYaml(text)).toEqual({
      ...{
        line: 'Two: "quoted"',
        lines: 'First line\nSecond line',
        about: 'Some **bold** words',
        whole: 12,
        number: -2.5,
        yes: true,
        maybe: false,
      },
      ...{
        word: 'b',
        words: ['z', 'x'],
        day: '2026-12-24',
        hour: '09:30',
        moment: '2026-12-24T18:00',
        lasts: 'PT1H30M',
      },
      ...{
        site: 'https://fells.example/',
        mail: 'office@fells.example',
        paint: '#3a6b35',
        photo: { file: '/pictures/ridge.png', alt: 'The ridge' },
      },
      ...{
        track: '/tracks/one.gpx',
        one: 'fell',
        many: ['tarn', 'beck'],
        texts: ['c', 'b'],
        group: { inner: 'inside', deep: { more: 7 } },
      },
      ...{
        parts: [
          { block: 'note', text: 'A note', off: true },
          { block: 'step', of: 2, to: 'tarn' },
        ],
        names: { no: 'Vannet' },
        free: { a: [1, true] },
      },
      ...{ advice: { by: 'fell', says: 'Go on' }, secret: 'hidden', kind: 'talk' },
    })
    expect(await page.locator(`${at('secret')} .tag.private`).count()).toBe(1)
    expect(problems).toEqual([])
    await page.close()
    await site.inspector.close()
  })

  test('says what is wrong at its field while one types, with the words of a check', async () => {
    const site = await openFolder(KINDS, false)
    const { page } = await site.open(browser, '/entry?name=all/one')
    await page.fill(`${at('whole')} input`, 'many')
    await page.waitForSelector(`${at('whole')} .wrong >> text=Found "many", expected a whole number`)
    await page.fill(`${at('whole')} input`, '-3')
    await page.waitForSelector(`${at('whole')} .wrong >> text=-3 is too small, expected at least 0`)
    await page.fill(`${at('one')} [role=combobox]`, 'nowhere')
    await page.click('h1')
    await page.waitForSelector(`${at('one')} .wrong >> text=No entry "nowhere" in places`)
    expect(await page.getAttribute(`${at('whole')} input`, 'aria-invalid')).toBe('true')
    await page.fill(`${at('line')} input`, '')
    await page.waitForSelector(`${at('line')} .wrong >> text=/line/`)
    await page.waitForSelector('.save-bar >> text=3 errors in what you have typed')
    expect(site.file('content/all/one.yaml')).toBe(KINDS['content/all/one.yaml'])
    await page.click('.save-bar button >> text=Discard')
    await page.waitForSelector('.save-bar', { state: 'detached' })
    await page.close()
    await site.inspector.close()
  })
})

describe('A writer who has read nothing', () => {
  let site: InspectedFolder
  beforeAll(async () => {
    site = await openFolder()
  })
  afterAll(() => site?.inspector.close())

  test('adds a trail with legs, and a notice about it with a link in its body', async () => {
    const { page, problems } = await site.open(browser)
    await page.click('nav >> text=trails')
    await page.click('a >> text=New')
    await page.fill(`${at('title')} input`, 'Long Ridge')
    await page.fill(`${at('summary')} textarea, ${at('summary')} input`, 'From the cairn to the tarns.')
    await pick(page, 'region', 'north', 'North Fell')
    await page.selectOption(`${at('grade')} select`, 'moderate')
    await page.fill(`${at('distance')} input`, '14.2')
    await page.fill(`${at('ascent')} input`, '620')
    for (const [list, typed, label] of [
      ['terrains', 'grass', 'Grass'],
      ['seasons', 'summ', 'Summer'],
    ] as const) {
      await page.click(`${at(list)} > .items > .pair button`)
      await pick(page, `${list}.0`, typed, label)
    }
    for (const [position, typed, label, hours] of [
      [0, 'cairn', 'Cairnfoot', '2'],
      [1, 'three', 'Three Tarns', '3.5'],
    ] as const) {
      await page.click(`${at('legs')} > .items > .pair button`)
      await pick(page, `legs.${position}.hut`, typed, label)
      await page.fill(`${at(`legs.${position}.hours`)} input`, hours)
    }
    await page.click('.cm-content')
    await page.keyboard.type('Follow the wall.')
    await page.waitForSelector('.save-bar >> text=It becomes content/trails/long-ridge.md')
    await page.click('.save-bar button >> text=Write it')
    await page.waitForSelector('h1 >> text=Long Ridge')
    const text = site.file('content/trails/long-ridge.md')
    expect(readFront(text)).toEqual({
      ...{
        title: 'Long Ridge',
        summary: 'From the cairn to the tarns.',
        region: 'north-fell',
        grade: 'moderate',
        distance: 14.2,
        ascent: 620,
      },
      ...{ terrains: ['grass'], seasons: ['summer'], draft: false },
      legs: [
        { hut: 'cairnfoot', hours: 2 },
        { hut: 'three-tarns', hours: 3.5 },
      ],
    })
    expect(text).toMatch(/---\n\nFollow the wall\.\n?$/)
    await page.click('nav >> text=notices')
    await page.click('a >> text=New')
    await page.fill(`${at('title')} input`, 'Long Ridge is open')
    await page.selectOption(`${at('severity')} select`, 'info')
    await pick(page, 'author', 'maren', 'Maren Holt')
    await page.fill(`${at('starts')} input`, '2026-12-01')
    await page.click(`${at('trails')} > .items > .pair button`)
    await pick(page, 'trails.0', 'long r', 'Long Ridge')
    await page.waitForSelector('.save-bar >> text=It becomes')
    await page.click('.cm-content')
    await page.keyboard.type('See [the trail](')
    await page.waitForSelector('.cm-tooltip-autocomplete')
    await page.keyboard.type('../trails/long-r')
    await page.waitForSelector('.cm-tooltip-autocomplete >> text=Long Ridge')
    // A list that has just come takes no key yet.
    await page.waitForTimeout(400)
    await page.keyboard.press('Enter')
    await page.keyboard.type(').')
    await page.waitForTimeout(500)
    await page.waitForSelector('.save-bar >> text=It becomes')
    await page.click('.save-bar button >> text=Write it')
    await page.waitForSelector('h1 >> text=Long Ridge is open')
    const notice = site.file('content/notices/long-ridge-is-open.md')
    expect(readFront(notice)).toMatchObject({ trails: ['long-ridge'], author: 'maren-holt' })
    expect(notice).toContain('See [the trail](../trails/long-ridge.md).')
    await page.click('nav >> text=Overview')
    await page.waitForSelector('.figures >> text=0 errors')
    expect(problems).toEqual([])
    await page.close()
  })

  test('makes a draft of it, publishes it, duplicates it, renames it with all that leads there, removes it and undoes that', async () => {
    const { page, problems, go } = await site.open(browser, '/entry?name=trails/saltedge/marsh-line')
    await page.click('button >> text=Make it a draft')
    await page.waitForSelector('text=It can be written')
    await save(page)
    expect(readFront(site.file('content/trails/saltedge/marsh-line.md')).draft).toBe(true)
    await page.waitForSelector('.tag >> text=it is a draft')
    await page.click('button >> text=Publish')
    await page.waitForSelector('text=It can be written')
    await save(page)
    expect(readFront(site.file('content/trails/saltedge/marsh-line.md'))).not.toHaveProperty('draft')
    await page.click('button >> text=Duplicate')
    await page.fill(`${at('title')} input`, 'Marsh Line by Night')
    await page.waitForSelector('.save-bar >> text=It becomes')
    await page.click('.save-bar button >> text=Write it')
    await page.waitForSelector('h1 >> text=Marsh Line by Night')
    await go('/entry?name=regions/tarnside')
    await page.click('button >> text=Rename')
    await page.fill('.dialog input', 'the-tarns')
    await page.click('.dialog button >> text=See what changes')
    await page.waitForSelector('.dialog .diff')
    await page.click('.dialog button >> text=/^Change \\d+ files/')
    await page.waitForSelector('.notice.good')
    expect(site.file('content/huts/three-tarns.yaml')).toContain('region: the-tarns')
    expect(site.file('content/regions.yaml')).toContain('the-tarns:')
    await page.click('.dialog button >> text=Close')
    await page.waitForSelector('h1 >> text=Tarnside')
    await go('/entry?name=letters/lost-mitten')
    const letter = site.file('content/letters/lost-mitten.md')
    await page.click('button >> text=Remove')
    await page.click('.dialog button >> text=Go on')
    await page.click('.dialog button >> text=Change 1 file')
    await page.waitForSelector('.notice.good')
    expect(() => site.file('content/letters/lost-mitten.md')).toThrow()
    await page.click('.dialog button >> text=Undo it')
    await expect.poll(() => site.file('content/letters/lost-mitten.md')).toBe(letter)
    expect(problems).toEqual([])
    await page.close()
  })

  test('puts a picture of another folder into a hut, with its words, and sees it', async () => {
    const { page, problems } = await site.open(browser, '/entry?name=huts/reedholm')
    await page.click(`${at('photo')} button >> text=Choose`)
    const bytes = readFileSync(join(site.root, 'content/pictures/tarns.png'))
    await page.setInputFiles(`${at('photo')} input[type=file]`, {
      name: 'Reed Holm.png',
      mimeType: 'image/png',
      buffer: bytes,
    })
    await page.waitForSelector(`${at('photo')} img.preview`)
    await page.waitForSelector(`${at('photo')} .wrong`)
    await page.fill(`${at('photo')} .file-fields > input`, 'Reeds in the evening')
    await page.waitForSelector('text=It can be written')
    await save(page)
    expect(parseYaml(site.file('content/huts/reedholm.yaml')).photo).toEqual({
      file: '/pictures/reed-holm.png',
      alt: 'Reeds in the evening',
    })
    expect(problems).toEqual([])
    await page.close()
  })

  test('puts the pages of a handbook into another order, by keyboard and by mouse', async () => {
    const { page, problems } = await site.open(browser, '/collection?name=handbook&as=order')
    const ids = (): Promise<string[]> =>
      page.$$eval('.own-order li > .quiet', (all) => all.map((one) => one.textContent))
    await page.waitForSelector('.own-order li')
    const before = await ids()
    await page.focus('[aria-label="Move huts/stove down"]')
    await page.keyboard.press('Enter')
    await page.click('[role=dialog] button >> text=Change 2 files')
    await page.click('[role=dialog] button >> text=Close')
    await expect.poll(ids).toEqual(['huts', 'huts/water', 'huts/stove', 'paths', 'paths/signs', 'weather'])
    const row = (id: string) => page.locator('.own-order li', { has: page.locator(`.quiet >> text="${id}"`) })
    await row('weather').locator('.grip').dragTo(row('paths'))
    await page.click('[role=dialog] button >> text=/^Change/')
    await page.click('[role=dialog] button >> text=Close')
    await expect.poll(ids).toEqual(['huts', 'huts/water', 'huts/stove', 'weather', 'paths', 'paths/signs'])
    expect(site.file('content/handbook/02-weather.md')).toContain('title: Weather')
    expect(await audit(page, 'main')).toEqual([])
    expect(problems).toEqual([])
    expect(before).toHaveLength(6)
    await page.close()
  })

  test('changes many entries together, and takes it back', async () => {
    const { page } = await site.open(browser, '/collection?name=huts&f.region=lowmark')
    const before = site.file('content/huts/barley-end.yaml')
    for (const box of await page.locator('.table [role=cell] input').all()) await box.check()
    await page.selectOption('.bulk select >> nth=0', 'beds')
    await page.fill('.bulk input', '45')
    await page.click('.bulk button >> text=/^Set$/')
    await page.waitForSelector('.dialog .diff .added >> text=+beds: 45')
    await page.click('.dialog button >> text=Change 3 files')
    await page.waitForSelector('.notice.good')
    expect(parseYaml(site.file('content/huts/barley-end.yaml')).beds).toBe(45)
    await page.click('.dialog button >> text=Undo it')
    await expect.poll(() => site.file('content/huts/barley-end.yaml')).toBe(before)
    await page.close()
  })

  test('never loses what is typed: over a reload, and where another program writes the same file', async () => {
    const { page } = await site.open(browser, '/entry?name=huts/samphire')
    const path = join(site.root, 'content/huts/samphire.yaml')
    const before = readFileSync(path, 'utf8')
    await page.fill(`${at('name')} input`, 'Samphire House')
    await page.fill(`${at('beds')} input`, '11')
    await page.waitForSelector('text=It can be written')
    page.on('dialog', (dialog) => void dialog.accept())
    await page.reload()
    await page.waitForSelector('text=What you had typed before is still here')
    expect(await page.inputValue(`${at('beds')} input`)).toBe('11')
    writeFileSync(path, before.replace(/^beds: .*$/m, 'beds: 17 # counted').replace(/^elevation: .*$/m, 'elevation: 7'))
    await page.waitForSelector('text=The file was changed while you were typing.')
    expect(await page.textContent('.notice.warning table')).toContain('beds1711')
    expect(await page.isDisabled('.save-bar button >> text=/^Write it/')).toBe(true)
    await page.click('button >> text=Go on with mine')
    await page.waitForSelector('text=It can be written')
    await save(page)
    const now = readFileSync(path, 'utf8')
    expect(parseYaml(now)).toMatchObject({ name: 'Samphire House', beds: 11, elevation: 7 })
    expect(now).toContain('# counted')
    await page.close()
  })

  test('is told that the server is gone, keeps what is typed, and goes on where it is back', async () => {
    const own = await openFolder(KINDS, false)
    const { page } = await own.open(browser, '/entry?name=all/one')
    await page.fill(`${at('line')} input`, 'Kept')
    await page.waitForSelector('text=It can be written')
    await own.inspector.close()
    await page.waitForSelector('text=The inspector does not answer.')
    expect(await page.inputValue(`${at('line')} input`)).toBe('Kept')
    await page.close()
  })

  test('works with the keyboard alone: opens an entry, changes it, moves an item, writes it', async () => {
    const { page } = await site.open(browser, '/collection?name=huts')
    await page.focus('input[aria-label=Condition]')
    await page.keyboard.type('name = "Otter Bield"')
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('.table [role=row]').count()).toBe(2)
    const press = async (key: string, until: string) => {
      for (let times = 0; times < 120; times++) {
        await page.keyboard.press(key)
        if (await page.evaluate(`document.activeElement?.matches(${JSON.stringify(until)})`)) return
      }
      throw new Error(`${until} is never reached`)
    }
    await press('Tab', '.table a')
    await page.keyboard.press('Enter')
    await page.waitForSelector('h1 >> text=Otter Bield')
    // The first thing that is reached leads over the menu.
    await page.evaluate('document.activeElement?.blur()')
    await press('Tab', '.skip')
    await page.keyboard.press('Enter')
    await press('Tab', `${at('beds')} input`)
    await page.keyboard.press('Control+A')
    await page.keyboard.type('12')
    await press('Tab', '[data-path="wardens.0"] input')
    await page.keyboard.press('Control+A')
    await page.keyboard.type('jonah')
    // Not what was there before the last letter.
    await expect.poll(() => page.locator('.choices [role=option]').first().textContent()).toMatch(/jonah/i)
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('Enter')
    await press('Tab', '.save-bar button.main')
    await page.keyboard.press('Enter')
    await page.waitForSelector('.save-bar', { state: 'detached' })
    expect(parseYaml(site.file('content/huts/otter-bield.yaml'))).toMatchObject({
      beds: 12,
      wardens: ['jonah-skerrow'],
    })
    await page.close()
  })
})
