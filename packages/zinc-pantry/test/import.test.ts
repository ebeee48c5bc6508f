import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { makeFile, makeFolder, REPOSITORY, readFolder, runCommand, runs, textOf } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')
const options = (root: string) => ({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })

const query = async (root: string, collection: string, format: string): Promise<string> =>
  (await runCommand(root, ['query', collection, '--format', format])).stdout

const TABLE = `Hut name,Region,elevation,Beds,Latitude,Longitude,wardens,Water source,Remarks
Raven Bield,north-fell,540,14,54.7,-3.1,maren-holt,spring,nice
Kite Stone,tarnside,350,8,54.6,-3.2,"maren-holt, osric-fenn",beck,
Gable Hut,north-fell,612,30,,,,,
`

describe('Records of somebody else', () => {
  test('that a query gave change nothing, and bring back what is gone', async () => {
    const root = makeFolder({}, DEMO)
    const old = readFolder(root)
    const { collectionNames } = await checkSite(options(root))
    const looked = ['huts', 'trails', 'stages', 'tags', 'events', 'words']
    const isLooked = (name: string): boolean => (runs(0, 1) === 1 ? name !== 'bookings' : looked.includes(name))
    for (const collection of collectionNames.filter(isLooked))
      for (const format of ['csv', 'json']) {
        makeFile(root, `given.${format}`, await query(root, collection, format))
        const { code, stderr } = await runCommand(root, ['import', `given.${format}`, collection])
        expect([collection, code, stderr]).toEqual([
          collection,
          0,
          expect.stringMatching(/^There is nothing to change\n/),
        ])
      }
    const { 'given.csv': _, 'given.json': __, ...now } = readFolder(root)
    expect(now).toEqual(old)
    // Entries of tables and lists come back as they were, by what a query gives of them.
    const emptied = { 'stages.csv': 'id,trail,time.up,time.down,measured,seasons,children\n', 'seasons.json': '[]\n' }
    for (const [file, text] of Object.entries(emptied)) {
      const collection = file.slice(0, file.indexOf('.'))
      const before = await query(root, collection, 'json')
      makeFile(root, 'given.csv', await query(root, collection, 'csv'))
      makeFile(root, `content/${file}`, text)
      const { code } = await runCommand(root, ['import', 'given.csv', collection])
      expect([collection, code]).toEqual([collection, 0])
      expect(await query(root, collection, 'json')).toBe(before)
    }
    expect(textOf(await checkSite(options(root)))).toBe('')
  })

  test('come in by headings that are guessed and shown: new ones are written, known ones get what differs', async () => {
    const root = makeFolder({ 'huts.csv': TABLE }, DEMO)
    const old = readFolder(root)
    const { code, stdout, stderr } = await runCommand(root, ['import', 'huts.csv', 'huts', '--map', 'Remarks='])
    expect(code).toBe(0)
    expect(stdout).toBe(`huts.csv into huts: 2 new, 1 known
  content/huts/gable.yaml:4:7 beds of huts/gable becomes 30
  content/huts/raven-bield.yaml is made
  content/huts/kite-stone.yaml is made
`)
    expect(stderr.match(/^To be looked at.*/gm)).toEqual([
      'To be looked at: huts.csv:1:1 "Hut name" is taken for name',
      'To be looked at: huts.csv:1:32 "Latitude" is taken for position.latitude',
      'To be looked at: huts.csv:1:41 "Longitude" is taken for position.longitude',
      'To be looked at: huts.csv:1:59 "Water source" is taken for water.source',
    ])
    expect(readFolder(root)['content/huts/kite-stone.yaml']).toBe(`name: Kite Stone
region: tarnside
elevation: 350
beds: 8
position:
  latitude: 54.6
  longitude: -3.2
wardens: [maren-holt, osric-fenn]
water:
  source: beck
  drinkable: true
`)
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readFolder(root)).toEqual(old)
  })

  test('have their problems at the cells that they came from, and nothing is written', async () => {
    const text = TABLE.replace('tarnside,350,8', 'tarnsid,350,many').replace(',beck,', ',,')
    const root = makeFolder({ 'huts.csv': text }, DEMO)
    const old = readFolder(root)
    const { code, stderr } = await runCommand(root, ['import', 'huts.csv', 'huts', '--map', 'Remarks='])
    expect(code).toBe(1)
    expect(stderr.match(/^huts\.csv.*\n.*/gm)).toEqual([
      'huts.csv:3:12 error ref-dangling\n  No entry "tarnsid" in regions',
      'huts.csv:3:24 error value-type\n  Found "many", expected a whole number',
      'huts.csv:3:64 error field-empty\n  Field "source" is empty, expected one of "tap", "spring", "beck" or "rain tank"',
    ])
    expect(readFolder(root)).toEqual(old)
  })

  test.each([
    [
      ['huts.csv', 'huts'],
      '"Remarks" is no field\n  help: --map "Remarks=field" says what it is, --map "Remarks=" leaves it out',
    ],
    [['huts.csv', 'huts', '--map', 'Remark='], 'There is no heading "Remark"'],
    [['huts.csv', 'huts', '--map', 'Remarks'], '"Remarks" is not written as heading=field'],
    [['huts.csv', 'hut'], 'There is no collection "hut"\n  help: Did you mean "huts"?'],
    [['hut.csv', 'huts'], 'hut.csv cannot be read'],
    [['text.json', 'huts'], 'text.json has no records that can be read'],
    [['words.txt', 'huts'], 'words.txt is of no format that can be read'],
  ])('or it is said why they cannot: %j', async (args, words) => {
    const root = makeFolder({ 'huts.csv': TABLE, 'text.json': '"x"', 'words.txt': 'x' }, DEMO)
    const { code, stderr } = await runCommand(root, ['import', ...args])
    expect([code, stderr]).toEqual([2, expect.stringContaining(words)])
  })
})
