import { execFileSync, spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { createServer, request } from 'node:http'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { WebSocket } from 'ws'
import { createNodeHost } from 'zinc-pantry/engine'
import { type CallAnswer, type CallName, type CallParameters, startInspector } from 'zinc-pantry/inspect'
import { linkPackages, makeFolder, REPOSITORY, readFolder } from './helpers.ts'
import { launchBrowser } from './launch-browser.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')

/** An inspector of a copy of the demo, and a way to ask it. */
async function openDemo(more: { isReadOnly?: boolean; files?: Record<string, string> } = {}) {
  const root = makeFolder(more.files ?? {}, DEMO)
  linkPackages(root)
  const inspector = await startInspector({
    ...{ host: createNodeHost(root), configurationFile: 'pantry.config.ts', name: 'fellmark', port: 0 },
    ...(more.isReadOnly ? { isReadOnly: true } : {}),
  })
  const [base = '', token = ''] = inspector.address.split('/#token=')
  const call = async <Name extends CallName>(
    name: Name,
    parameters: CallParameters<Name>,
  ): Promise<CallAnswer<Name>> => {
    const body = JSON.stringify(parameters)
    const response = await fetch(`${base}/call/${name}`, { method: 'POST', headers: { 'x-pantry-token': token }, body })
    return (await response.json()) as CallAnswer<Name>
  }
  return { root, inspector, base, token, call }
}

describe('An inspector is closed to all but who started it', () => {
  let opened: Awaited<ReturnType<typeof openDemo>>
  beforeAll(async () => {
    opened = await openDemo()
  })
  afterAll(() => opened.inspector.close())

  /** The status of an answer, by headers that no `fetch` would send. */
  const ask = (path: string, headers: Record<string, string>, method = 'POST', body = '{}'): Promise<number> =>
    new Promise((resolve, reject) => {
      const { port } = new URL(opened.base)
      const asked = request({ host: '127.0.0.1', port, path, method, headers }, (response) => {
        response.resume()
        resolve(response.statusCode ?? 0)
      })
      asked.on('error', reject)
      asked.end(method === 'GET' ? undefined : body)
    })

  test('Other hosts, origins, methods and tokens are refused, in calls and for pictures', async () => {
    const { token, base } = opened
    const host = new URL(base).host
    const own = { 'x-pantry-token': token, host }
    expect(await ask('/call/status', own)).toBe(200)
    expect(await ask('/call/status', { ...own, origin: base, 'sec-fetch-site': 'same-origin' })).toBe(200)
    const strangers: Record<string, string>[] = [
      { 'x-pantry-token': token, host: `fells.example:${new URL(base).port}` },
      { 'x-pantry-token': token, host: '127.0.0.1' },
      { ...own, origin: 'http://fells.example' },
      { ...own, origin: `http://localhost:${Number(new URL(base).port) + 1}` },
      { ...own, origin: 'null' },
      { ...own, 'sec-fetch-site': 'cross-site' },
      { ...own, 'sec-fetch-site': 'same-site' },
    ]
    for (const wrong of strangers) {
      expect(await ask('/call/status', wrong), JSON.stringify(wrong)).toBe(403)
      expect(await ask('/file?path=pictures/ridge.png', wrong, 'GET')).toBe(403)
      expect(await ask('/', { ...wrong, 'sec-fetch-site': 'cross-site' }, 'GET')).toBe(403)
    }
    const guesses: Record<string, string>[] = [{}, { 'x-pantry-token': '' }, { 'x-pantry-token': `${token}x` }]
    for (const guess of guesses) {
      const wrong = { host, ...guess }
      expect(await ask('/call/status', wrong)).toBe(401)
      expect(await ask('/file?path=pictures/ridge.png', wrong, 'GET')).toBe(401)
    }
    expect(await ask('/call/status', own, 'GET')).toBe(403)
    expect(await ask('/call/status', own, 'PUT')).toBe(403)
    expect(await ask('/call/status', own, 'POST', '{')).toBe(400)
    expect(await ask('/', { host }, 'POST')).toBe(403)
    expect(await ask('/assets/..%2f..%2f..%2fpackage.json', { host }, 'GET')).toBe(404)
    expect(await ask('/assets/nothing.js', { host }, 'GET')).toBe(404)
    const page = await fetch(`${base}/collection?name=huts`)
    expect([page.status, page.headers.get('x-frame-options')]).toEqual([200, 'DENY'])
    expect(page.headers.get('content-security-policy')).toContain("default-src 'none'")
    expect(await page.text()).not.toContain(token)
  })

  test('The channel of news opens with the token and from the page only', async () => {
    const { token, base } = opened
    const address = `${base.replace('http', 'ws')}/news`
    const outcome = (protocols: string[], headers = {}): Promise<string> =>
      new Promise((resolve) => {
        const socket = new WebSocket(address, protocols, { headers })
        socket.on('message', (data) => {
          resolve(String(JSON.parse(String(data)).name))
          socket.close()
        })
        socket.on('error', () => resolve('refused'))
      })
    expect(await outcome(['pantry', token])).toBe('fellmark')
    expect(await outcome(['pantry', token], { origin: base })).toBe('fellmark')
    expect(await outcome(['pantry', 'guess'])).toBe('refused')
    expect(await outcome([token])).toBe('refused')
    expect(await outcome(['pantry', token], { origin: 'http://fells.example' })).toBe('refused')
    expect(await outcome(['pantry', token], { host: 'fells.example' })).toBe('refused')
  })

  test('A page of another site, also under a name that was made to lead here, reads and writes nothing', async () => {
    const { base, token, root } = opened
    const before = readFolder(root)
    const other = createServer((_, response) => response.setHeader('content-type', 'text/html').end('<h1>Other</h1>'))
    other.listen(0, '127.0.0.1')
    await once(other, 'listening')
    const { port } = other.address() as { port: number }
    const browser = await launchBrowser('--host-resolver-rules=MAP fells.example 127.0.0.1')
    try {
      const page = await browser.newPage()
      const attempt = (target: string) =>
        page.evaluate(
          async ({ target, token }) => {
            const found: string[] = []
            const note = (name: string) => (value: unknown) => found.push(`${name}: ${String(value).slice(0, 40)}`)
            const body = JSON.stringify({
              request: { kind: 'remove', target: 'huts/gable' },
              dryRun: false,
              anyway: true,
            })
            for (const mode of ['cors', 'no-cors', 'same-origin'] as const) {
              const headers: Record<string, string> = mode === 'no-cors' ? {} : { 'x-pantry-token': token }
              const answer = await fetch(`${target}/call/change`, { method: 'POST', mode, headers, body }).catch(
                () => undefined,
              )
              if (answer?.ok) note(mode)(await answer.text())
            }
            const socket = new window.WebSocket(`${target.replace('http', 'ws')}/news`, ['pantry', token])
            await new Promise<void>((resolve) => {
              socket.onmessage = ({ data }) => {
                note('news')(data)
                resolve()
              }
              socket.onerror = () => resolve()
            })
            const frame = document.createElement('iframe')
            frame.src = target
            document.body.append(frame)
            await new Promise((resolve) => setTimeout(resolve, 300))
            if (frame.contentDocument?.querySelector('#page')) note('frame')('read')
            const form = Object.assign(document.createElement('form'), {
              method: 'post',
              action: `${target}/call/undo`,
              target: 'out',
            })
            document.body.append(form)
            form.submit()
            return found
          },
          { target, token },
        )
      await page.goto(`http://127.0.0.1:${port}/`)
      expect(await attempt(base)).toEqual([])
      await page.goto(`http://fells.example:${port}/`)
      expect(await attempt(base)).toEqual([])
      const refused = await page.goto(`http://fells.example:${new URL(base).port}/`)
      expect(refused?.status()).toBe(403)
      expect(await attempt(`http://fells.example:${new URL(base).port}`)).toEqual([])
    } finally {
      await browser.close()
      other.close()
    }
    expect(readFolder(root)).toEqual(before)
  })

  test('Paths that lead out of the site are neither read nor written', async () => {
    const { call, root, base, token } = opened
    const outside = makeFolder({ 'secret.png': 'secret', 'secret.md': '---\ntitle: Secret\n---\n' })
    symlinkSync(outside, join(root, 'content/pictures/away'))
    const before = readFolder(root)
    for (const path of [
      '../package.json',
      '../../etc/passwd',
      '/etc/passwd',
      `${outside}/secret.png`,
      'pictures/away/secret.png',
      '../pantry.config.ts',
      'huts/gable.yaml',
    ]) {
      const headers = { 'x-pantry-token': token }
      expect((await fetch(`${base}/file?path=${encodeURIComponent(path)}`, { headers })).status, path).toBe(404)
    }
    const up = '../'.repeat(8)
    const requests: CallParameters<'change'>['request'][] = [
      { kind: 'new', collection: 'notices', name: 'out', values: [], into: `${up}tmp/out.md` },
      { kind: 'new', collection: 'notices', name: `${up}tmp/out`, values: [] },
      { kind: 'rename', target: 'pictures/ridge.png', name: `${up}tmp/ridge.png` },
      { kind: 'rename', target: 'huts/cairnfoot', name: `${up}tmp/cairnfoot` },
      { kind: 'remove', target: `${up}etc/passwd` },
      { kind: 'import', collection: 'huts', file: `${outside}/secret.md` } as never,
    ]
    for (const request of requests)
      expect(await call('change', { request, dryRun: false, anyway: true }), JSON.stringify(request)).toHaveProperty(
        'refused',
      )
    expect(readFolder(root)).toEqual(before)
    expect(existsSync('/tmp/out.md') || existsSync('/tmp/ridge.png')).toBe(false)
  })

  test('Nothing is written where it was opened for reading only', async () => {
    const { call, root, inspector } = await openDemo({ isReadOnly: true })
    const before = readFolder(root)
    const request = { kind: 'remove', target: 'letters/thanks' } as const
    expect(await call('change', { request, dryRun: true })).toMatchObject({
      files: [{ kind: 'deleted' }],
      isWritten: false,
    })
    expect(await call('change', { request, dryRun: false })).toEqual({ refused: 'It was opened for reading only' })
    expect(await call('undo', {})).toEqual({ refused: 'It was opened for reading only' })
    expect((await call('status', {})).isReadOnly).toBe(true)
    await inspector.close()
    expect(readFolder(root)).toEqual(before)
  })
})

describe('What a page asks for', () => {
  let opened: Awaited<ReturnType<typeof openDemo>>
  beforeAll(async () => {
    opened = await openDemo()
  })
  afterAll(() => opened.inspector.close())

  test('An entry with its connections, its text and its problems at their values', async () => {
    const { call, root } = opened
    const hut = await call('entry', { collection: 'huts', id: 'three-tarns' })
    if ('refused' in hut) throw new Error(hut.refused)
    expect(hut.head).toEqual({
      name: 'huts/three-tarns',
      collection: 'huts',
      id: 'three-tarns',
      label: 'Three Tarns',
      address: '/huts/three-tarns/',
    })
    expect(hut.refersTo.map(({ name, path }) => [name, path])).toContainEqual(['wardens/osric-fenn', 'wardens.1'])
    const gable = await call('entry', { collection: 'huts', id: 'gable' })
    if ('refused' in gable) throw new Error(gable.refused)
    expect(gable.usedBy.some(({ collection, path }) => collection === 'trails' && path === undefined)).toBe(true)
    const file = join(root, 'content/huts/three-tarns.yaml')
    const text = readFileSync(file, 'utf8')
    writeFileSync(file, text.replace('elevation: 388', 'elevation: -1').replace('osric-fenn', 'osric-fen'))
    const faulty = await until(
      () => call('entry', { collection: 'huts', id: 'three-tarns' }),
      (answer) => !('refused' in answer) && answer.problems.length > 0,
    )
    if ('refused' in faulty) throw new Error(faulty.refused)
    expect(faulty.problems.map(({ code, path, line }) => [code, path, line])).toEqual([
      ['number-too-small', ['elevation'], 3],
      ['ref-dangling', ['wardens', 1], 6],
    ])
    const status = await call('status', {})
    expect(status.errors).toBeGreaterThan(1)
    writeFileSync(file, text)
    await until(
      () => call('status', {}),
      ({ errors }) => errors === 0,
    )
    const overview = await call('overview', {})
    if ('refused' in overview) throw new Error(overview.refused)
    const three = 'content/huts/three-tarns.yaml'
    expect(overview.log.slice(-2)).toMatchObject([
      { files: [{ file: three, words: 'Checked again, since its content changed' }], again: 1, errors: status.errors },
      { files: [{ file: three, words: expect.stringContaining('at an earlier time') }], again: 1, errors: 0 },
    ])
    expect(await call('account', { file: three })).toMatchObject({
      dependents: expect.arrayContaining([
        { entry: 'trails/tarnside/birk-knott', ways: ['refers to it (legs.1.hut)'] },
      ]),
    })
    const other = await call('account', { file: 'content/huts/gable.yaml' })
    expect('words' in other && other.words).toMatch(/^Nothing was done/)
  })

  test('An entry of a table is written by its cells, and of a file that changed meanwhile nothing is', async () => {
    const { call, root } = opened
    const stage = await call('entry', { collection: 'stages', id: 'traverse-1' })
    if ('refused' in stage) throw new Error(stage.refused)
    const { written, digest } = stage
    const record = { ...written, seasons: ['summer'], children: true }
    const request = { kind: 'write', collection: 'stages', id: 'traverse-1', record } as const
    const made = await call('change', { request, digest, dryRun: false })
    expect(made).toMatchObject({ isWritten: true, own: [] })
    const lines = readFileSync(join(root, 'content/stages.csv'), 'utf8').split('\n')
    expect(lines.find((line) => line.startsWith('traverse-1,'))).toMatch(/,summer,(?:yes|true)\r?$/)
    const late = await call('change', { request: { ...request, record: written }, digest, dryRun: false })
    expect(late).toMatchObject({ stale: { written: record } })
    expect(await call('undo', {})).toEqual({ words: 'stages/traverse-1 is written' })
    const now = await call('entry', { collection: 'stages', id: 'traverse-1' })
    expect(now).toMatchObject({ digest, written })
  })

  test('A new entry is written without comments on what was filled in, and says what is not', async () => {
    const { call, root } = opened
    const record = { title: 'Snow on the door', severity: 'care', author: 'maren-holt', starts: '2026-12-01' }
    const request = {
      kind: 'new',
      collection: 'notices',
      name: 'Snow on the door',
      values: [],
      record,
      body: '\nTake crampons.\n',
    } as const
    const { author: _, ...less } = record
    const half = await call('change', { request: { ...request, record: less }, dryRun: true })
    expect(half).toMatchObject({
      unfilled: [{ code: 'field-empty' }],
      own: [{ code: 'field-empty', path: ['author'] }],
    })
    expect(await call('change', { request, dryRun: false })).toMatchObject({ isWritten: true, own: [], problems: [] })
    expect(readFileSync(join(root, 'content/notices/snow-on-the-door.md'), 'utf8')).toBe(
      '---\ntitle: Snow on the door\nseverity: care\nauthor: maren-holt\nstarts: 2026-12-01\n---\n\nTake crampons.\n',
    )
    await call('undo', {})
  })

  test('Rows come in parts of one answer, with counts, a plan and the question as code', async () => {
    const { call } = opened
    const question = {
      collection: 'trails',
      where: 'legs some (hut.beds >= 20) and region.name != Lowmark',
      sort: '-distance',
      fields: 'title,region,legs.hut.name',
    }
    const whole = await call('rows', { ...question, limit: 50 })
    if (!('rows' in whole)) throw new Error(JSON.stringify(whole))
    const parts = await Promise.all([0, 2, 4].map((offset) => call('rows', { ...question, offset, limit: 2 })))
    expect(parts.flatMap((part) => ('rows' in part ? part.rows : []))).toEqual(whole.rows.slice(0, 6))
    const more = await call('answer', { ...question, facets: 'region,grade' })
    if (!('facets' in more)) throw new Error(JSON.stringify(more))
    expect(more.facets[0]?.counts).toContainEqual({ value: 'north-fell', count: 2, label: 'North Fell' })
    expect(more.plan.steps.length).toBeGreaterThan(0)
    const code = await call('code', { ...question, limit: 3 })
    expect(code).toEqual({
      typescript: `import { trails } from '#pantry'

const rows = await trails
  .where((entry) => entry.legs.some((item) => item.hut.beds.atLeast(20)).and(entry.region.name.isNot('Lowmark')))
  .sort((entry) => entry.distance.descending())
  .limit(3)
  .pick((entry) => ({
    title: entry.title,
    region: entry.region,
    'legs.hut.name': entry.legs.each((item) => item.hut.name),
  }))
  .toArray()
`,
      command: `zinc-pantry query trails --where 'legs some (hut.beds >= 20) and region.name != Lowmark' --sort -distance --fields title,region,legs.hut.name --limit 3`,
    })
    expect(await call('rows', { collection: 'trails', where: 'legs.hut.bed > 3' })).toMatchObject({
      problem: { part: 'where', message: 'Unknown field "bed"', help: 'Did you mean "beds"?' },
    })
  })

  test('A condition is completed: fields, behind references too, operators that suit, values that are known', async () => {
    const { call } = opened
    const offered = async (marked: string, collection = 'trails'): Promise<string[]> => {
      const at = marked.indexOf('|')
      const text = marked.replace('|', '')
      const answer = await call('complete', { collection, text, at })
      if ('refused' in answer) throw new Error(answer.refused)
      return answer.options.map((one) => text.slice(0, answer.start) + one.text + text.slice(answer.end))
    }
    expect(await offered('dis|')).toEqual(['distance'])
    expect(await offered('region.|')).toContain('region.name')
    expect(await offered('legs.hut.region.na|')).toEqual(['legs.hut.region.name'])
    expect(await offered('grade |')).toEqual(expect.arrayContaining(['grade =', 'grade in']))
    expect(await offered('grade |')).not.toContain('grade >=')
    expect(await offered('grade = ha|')).toEqual(['grade = hard'])
    expect(await offered('grade in (easy, |')).toEqual(expect.arrayContaining(['grade in (easy, hard']))
    expect(await offered('region = fe|')).toEqual(['region = north-fell'])
    expect(await offered('region = "North F|')).toEqual(['region = north-fell'])
    expect(await offered('legs some (hou|')).toEqual(['legs some (hours'])
    expect(await offered('legs some (hours > 3) |')).toEqual(['legs some (hours > 3) and', 'legs some (hours > 3) or'])
    expect(await offered('legs some (hours > 3) and ti|')).toEqual(
      expect.arrayContaining(['legs some (hours > 3) and title']),
    )
    expect(await offered('draft = |')).toEqual(['draft = true', 'draft = false'])
    expect(await offered('not (draft |')).toEqual(expect.arrayContaining(['not (draft =']))
  })

  test('Problems mend themselves one by one and together, and pages tell what leads to them', async () => {
    const { call, root } = opened
    const file = join(root, 'content/huts/cairnfoot.yaml')
    const text = readFileSync(file, 'utf8')
    writeFileSync(file, text.replace(/^name:/m, 'naem:').replace(/^elevation: (\d+)/m, 'elevation: "$1"'))
    const problems = await until(
      () => call('problems', {}),
      (all) => all.filter(({ edit }) => edit).length === 2,
    )
    const [first] = problems.filter(({ edit }) => edit)
    expect(first).toMatchObject({
      entry: { name: 'huts/cairnfoot' },
      excerpt: expect.arrayContaining([expect.stringContaining('naem')]),
    })
    const places = first ? [{ file: first.file, span: first.span }] : []
    expect(await call('change', { request: { kind: 'mend', places }, dryRun: true })).toMatchObject({
      files: [{ kind: 'changed' }],
      words: '1 mend',
    })
    expect(await call('change', { request: { kind: 'mend' }, dryRun: false })).toMatchObject({
      isWritten: true,
      words: '2 mends',
    })
    expect(readFileSync(file, 'utf8')).toBe(text)
    const pages = await call('pages', { kind: 'alone' })
    if ('refused' in pages) throw new Error(pages.refused)
    expect(pages.total).toBe(pages.counts.alone)
    expect(pages.pages.every(({ reachedFrom }) => reachedFrom.length === 0)).toBe(true)
    expect(await call('pages', { address: '/huts/gable/' })).toMatchObject({
      chosen: { name: 'huts/gable', reachedFrom: expect.arrayContaining(['trails/north-fell/high-traverse']) },
    })
  })

  test('A picture is put beside others under a name of its own, and taken back; what is none is refused', async () => {
    const { call, root } = opened
    const bytes = readFileSync(join(root, 'content/pictures/tarns.png'))
    const data = bytes.toString('base64')
    expect(await call('upload', { name: 'Évening at the Tarns.PNG', data })).toEqual({
      file: 'pictures/evening-at-the-tarns.png',
    })
    expect(readFileSync(join(root, 'content/pictures/evening-at-the-tarns.png'))).toEqual(bytes)
    expect(await call('undo', {})).toEqual({ words: 'pictures/evening-at-the-tarns.png is put in' })
    expect(await call('upload', { name: 'tarns.png', data })).toEqual({ file: 'pictures/tarns-2.png' })
    await call('undo', {})
    for (const [name, given] of [
      ['tarns.jpg', data],
      ['tarns.html', data],
      ['../../tarns', data],
      ['tarns.png', ''],
      ['tarns.png', 'PHNjcmlwdD4='],
    ] as const)
      expect(await call('upload', { name, data: given }), name).toHaveProperty('refused')
    expect(await call('upload', { name: '../../../out.png', data })).toEqual({ file: 'pictures/out.png' })
    await call('undo', {})
  })

  test('The changes of a file by version control, its body as it would be, and the uses of a block', async () => {
    const { call, root } = opened
    const name = { collection: 'notices', id: 'night-walk' }
    expect(await call('history', name)).toEqual({})
    const git = (...args: string[]) =>
      execFileSync(
        'git',
        ['-c', 'user.name=Office', '-c', 'user.email=office@fells.example', '-c', 'commit.gpgsign=false', ...args],
        { cwd: root },
      )
    git('init', '-q')
    git('add', 'content')
    git('commit', '-qm', 'All of it')
    const file = join(root, 'content/notices/night-walk.md')
    const before = readFileSync(file, 'utf8')
    writeFileSync(file, before.replace(/^severity: .*$/m, 'severity: closed'))
    git('commit', '-qam', 'It is closed')
    const history = await call('history', name)
    if ('refused' in history) throw new Error(history.refused)
    expect(history.revisions?.map(({ words, author }) => [words, author])).toEqual([
      ['It is closed', 'Office'],
      ['All of it', 'Office'],
    ])
    const revision = history.revisions?.[0]?.id ?? ''
    expect(await call('patch', { ...name, revision })).toMatchObject({
      patch: expect.stringContaining('+severity: closed'),
    })
    for (const wrong of ['--all', 'HEAD', '; ls', `${revision} -- .`])
      expect(await call('patch', { ...name, revision: wrong })).toEqual({})
    writeFileSync(file, before)
    const text =
      'See [the hut](../huts/gable.yaml) and\n\n![Tarns](../pictures/tarns.png)\n\n<script>alert(1)</script>\n'
    const drawn = await call('body', { ...name, text })
    if ('refused' in drawn) throw new Error(drawn.refused)
    expect(drawn.html).toContain('<a href="/huts/gable/">the hut</a>')
    expect(drawn.html).toContain('src="data:image/png;base64,')
    expect(drawn.html).not.toContain('<script')
    expect(readFileSync(file, 'utf8')).toBe(before)
    const kit = await call('part', { target: 'kit' })
    if ('refused' in kit) throw new Error(kit.refused)
    expect(kit.samples?.[0]?.value).toHaveProperty('item')
    expect(kit.declared[0]).toMatchObject({ file: 'pantry.config.ts', column: 5 })
    expect(await call('open', { file: '../outside.md', line: 1 })).toEqual({
      refused: '../outside.md is no file of the site',
    })
  })

  test('What is asked for wrongly is refused in words', async () => {
    const { call } = opened
    const refusal = async (name: string, parameters: unknown) =>
      (await call(name as 'entry', parameters as never)) as { refused?: string }
    expect((await refusal('nothing', {})).refused).toBe('There is no call "nothing"')
    expect((await refusal('constructor', {})).refused).toBe('There is no call "constructor"')
    expect((await refusal('entry', { collection: 'huts', id: 'nowhere' })).refused).toBe(
      'There is no entry huts/nowhere',
    )
    expect((await refusal('part', { target: 'huts.bed' })).refused).toContain('huts.bed')
    expect((await refusal('explain', { code: 'x' })).refused).toBe('There is no code "x"')
    expect((await refusal('change', { request: { kind: 'explode' }, dryRun: false })).refused).toBe(
      'A page cannot ask for "explode"',
    )
    for (const parameters of [null, 3, [], { request: null }, { collection: 3 }, { targets: 'x' }])
      for (const name of [
        'entry',
        'rows',
        'answer',
        'change',
        'choices',
        'part',
        'complete',
        'completeBody',
        'files',
        'pages',
      ])
        expect(JSON.stringify(await refusal(name, parameters))).not.toMatch(/at .*\.[jt]s:\d+/)
  })
})

test('By the command: it names its address, answers there, and ends with a signal; a configuration that breaks heals', async () => {
  const root = makeFolder({}, DEMO)
  linkPackages(root)
  const bin = join(REPOSITORY, 'packages/zinc-pantry/bin/zinc-pantry.js')
  const running = spawn(process.execPath, [bin, 'inspect', '--port', '0', '--no-open'], { cwd: root })
  const [first] = (await once(running.stdout, 'data')) as [Buffer]
  const address = /http:\S+/.exec(String(first))?.[0] ?? ''
  const [base = '', token = ''] = address.split('/#token=')
  const call = async (name: string, parameters = {}) =>
    (await (
      await fetch(`${base}/call/${name}`, {
        method: 'POST',
        headers: { 'x-pantry-token': token },
        body: JSON.stringify(parameters),
      })
    ).json()) as Record<string, unknown>
  expect(await call('status')).toMatchObject({ isBroken: false, errors: 0 })
  const file = join(root, 'pantry.config.ts')
  const text = readFileSync(file, 'utf8')
  writeFileSync(file, text.replace("files: 'regions.yaml',", 'files: 3,'))
  await until(
    () => call('status'),
    ({ isBroken }) => isBroken === true,
  )
  expect(await call('entry', { collection: 'huts', id: 'gable' })).toMatchObject({ head: { label: 'Gable Hut' } })
  expect(JSON.stringify(await call('problems'))).toContain('pantry.config.ts')
  writeFileSync(file, text)
  await until(
    () => call('status'),
    ({ isBroken }) => isBroken === false,
  )
  running.kill('SIGINT')
  const [code] = (await once(running, 'exit')) as [number]
  expect(code).toBe(0)
})

/** Asks again and again until an answer is as it is expected. */
async function until<Answer>(ask: () => Promise<Answer>, isRight: (answer: Answer) => boolean): Promise<Answer> {
  for (let attempt = 0; ; attempt++) {
    const answer = await ask()
    if (isRight(answer)) return answer
    if (attempt > 200) throw new Error(`It never came: ${JSON.stringify(answer).slice(0, 500)}`)
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}
