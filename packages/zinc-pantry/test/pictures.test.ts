import { existsSync, readdirSync, readFileSync, rmSync, symlinkSync, truncateSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import sharp from 'sharp'
import { beforeAll, describe, expect, test } from 'vitest'
import { block, either, flag, group, image, int, list, markdown, pantry, text } from 'zinc-pantry'
import { buildSite, checkSite, createNodeHost, type Host, messageOf, openSession } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { renderHtml, renderNodes } from 'zinc-pantry/render'
import { makeFolder, openFiles, REPOSITORY } from './helpers.ts'

type Loose = Readonly<Record<string, unknown>>
interface Sourced extends Loose {
  readonly sources: readonly { readonly type: string; readonly srcset: string }[]
}

/** A photograph, as far as an encoder can tell. */
const photo = (width: number, height: number) =>
  sharp(Buffer.from(Array.from({ length: width * height * 3 }, (_, at) => (at * at) % 251)), {
    raw: { width, height, channels: 3 },
  })

const pictures: Record<string, Uint8Array> = {}
beforeAll(async () => {
  pictures['wide.jpg'] = await photo(400, 200).jpeg().toBuffer()
  pictures['turned.jpg'] = await photo(300, 100).withMetadata({ orientation: 6 }).jpeg().toBuffer()
  pictures['small one.png'] = await photo(60, 40).png().toBuffer()
  const clear = { width: 50, height: 50, channels: 4 as const, background: { r: 0, g: 0, b: 0, alpha: 0 } }
  pictures['clear.png'] = await sharp({ create: clear }).png().toBuffer()
  const frames = Buffer.concat([Buffer.alloc(192, 0), Buffer.alloc(192, 99)])
  pictures['moving.webp'] = await sharp(frames, { raw: { width: 8, height: 16, channels: 3, pageHeight: 8 } })
    .webp({ loop: 0 })
    .toBuffer()
  pictures['drawn.svg'] = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="900" height="9"/>')
})

/** A site in a folder, whose host counts what it makes. */
function makeSite(configuration: object, files: Readonly<Record<string, string>>) {
  const below = Object.entries({ ...pictures, ...files }).map(([path, content]) => [`content/${path}`, content])
  const folder = makeFolder(Object.fromEntries(below))
  symlinkSync(join(REPOSITORY, 'node_modules'), join(folder, 'node_modules'), 'dir')
  const node = createNodeHost(folder)
  const made: string[] = []
  const host: Host = {
    ...node,
    loadConfiguration: async () => ({ kind: 'loaded', value: configuration, digest: 'the same', inputs: [] }),
    images: {
      missing: () => undefined,
      make(bytes, wanted) {
        made.push(`${wanted.width} ${wanted.kind}`)
        return node.images?.make(bytes, wanted) as Promise<Uint8Array>
      },
    },
  }
  const output = join(folder, 'generated/pantry')
  const build = async (drafts = false) => {
    const { diagnostics } = await buildSite({ host, configurationFile: 'pantry.config.ts', drafts })
    return { said: diagnostics.map(messageOf), made: made.splice(0).sort() }
  }
  const listed = (path: string): string[] =>
    existsSync(join(folder, path)) ? readdirSync(join(folder, path)).sort() : []
  return { folder, host, output, build, images: () => listed('generated/pantry/images'), listed }
}

/** All entries of the first collection of an output. */
async function readEntries(output: string): Promise<readonly Loose[]> {
  const site = await import(`${pathToFileURL(join(output, 'index.js')).href}?${Math.random()}`)
  return site.huts.toArray()
}

const fields = {
  photo: image({ alternative: 'none', sources: { widths: [200, 100, 1000], kinds: ['avif', 'jpeg'], quality: 40 } }),
}
const huts = (more: object = {}) =>
  pantry({ assetBase: '/files/', collections: { huts: { files: 'huts/*.{yaml,md,mdx}', fields, ...more } } } as never)

describe('Pictures in other sizes and formats', () => {
  test('have the widths that are asked for, never more than their own, upright, and their addresses are in the entry', async () => {
    const site = makeSite(huts(), {
      'huts/a.yaml': 'photo: /wide.jpg\n',
      'huts/b.yaml': 'photo: /turned.jpg\n',
      'huts/c.yaml': 'photo: /clear.png\n',
    })
    expect((await site.build()).said).toEqual([])
    const [wide, turned, clear] = (await readEntries(site.output)).map(({ photo: one }) => one as Loose)
    const { file, src, width, height, sources } = wide as Sourced
    expect({ file, src, width, height }).toEqual({ file: 'wide.jpg', src: '/files/wide.jpg', width: 400, height: 200 })
    expect(sources.map(({ type }) => type)).toEqual(['image/avif', 'image/jpeg'])
    expect(sources[1]?.srcset).toMatch(
      /^\/files\/images\/wide-100-q40-[\da-f]{12}\.jpeg 100w, \/files\/images\/wide-200-q40-[\da-f]{12}\.jpeg 200w, \/files\/images\/wide-400-q40-[\da-f]{12}\.jpeg 400w$/,
    )
    expect(turned).toMatchObject({ width: 100, height: 300 })
    const shown = [wide, turned, clear].flatMap((one) =>
      (one as Sourced).sources.flatMap(({ srcset }) => srcset.split(', ')),
    )
    const names = shown.map((one) => one.replace(/^\/files\/images\/(.*) \d+w$/, '$1'))
    expect(site.images()).toEqual([...names].sort())
    for (const name of names) {
      const {
        format,
        width: own,
        height: high,
        orientation,
        exif,
      } = await sharp(join(site.output, 'images', name)).metadata()
      const [, stem, wanted, ending] = /^(\w+)-(\d+)-.*\.(\w+)$/.exec(name) ?? []
      const ratio = { wide: 2, turned: 1 / 3, clear: 1 }[String(stem)] ?? 0
      expect([name, format === 'heif' ? 'avif' : format, own, high, orientation, exif]).toEqual([
        ...[name, ending, Number(wanted), Math.round(Number(wanted) / ratio), undefined, undefined],
      ])
    }
    const { data } = await sharp(join(site.output, 'images', String(names.find((one) => /^clear.*jpeg$/.test(one)))))
      .raw()
      .toBuffer({ resolveWithObject: true })
    expect(data[0]).toBe(255)
  })

  test('are none of drawings and of what moves; private ones, and those of drafts, are not made', async () => {
    const sources = { widths: [9999] }
    const own = {
      photo: image({ alternative: 'none', optional: true, sources }),
      plan: image({ alternative: 'none', optional: true, private: true, sources: { ...sources, kinds: ['png'] } }),
      more: list(either([image({ alternative: 'none', minWidth: 300, sources }), int()]), {
        optional: true,
      }),
      hidden: flag({ default: false }),
    }
    const site = makeSite(huts({ files: 'huts.yaml', fields: own, publication: { draft: 'hidden' } }), {
      'huts.yaml': [
        '- { id: a, photo: drawn.svg, plan: wide.jpg }',
        '- { id: b, photo: moving.webp }',
        '- { id: c, more: [3, wide.jpg] }',
        '- { id: d, photo: small one.png, hidden: true }',
      ].join('\n'),
    })
    expect(await site.build()).toEqual({ said: [], made: ['400 webp'] })
    const entries = await readEntries(site.output)
    expect(entries.map(({ photo: one }) => (one as Loose | null)?.sources)).toEqual([[], [], undefined])
    expect(site.images()).toEqual([expect.stringMatching(/^wide-400-[\da-f]{12}\.webp$/)])
    expect(await site.build(true)).toEqual({ said: [], made: ['60 webp'] })
    expect(site.images()).toHaveLength(2)
  })

  test('are made once: kept by content from process to process, written again where they are damaged, removed in time', async () => {
    const one = { sources: { widths: [100], kinds: ['png'] as const }, alternative: 'none' } as const
    const site = makeSite(huts({ fields: { photo: image(one) } }), { 'huts/a.yaml': 'photo: /wide.jpg\n' })
    expect((await site.build()).made).toEqual(['100 png'])
    const [name = ''] = site.images()
    const bytes = readFileSync(join(site.output, 'images', name))
    expect((await site.build()).made).toEqual([])
    rmSync(site.output, { recursive: true })
    expect((await site.build()).made).toEqual([])
    truncateSync(join(site.output, 'images', name), 9)
    expect((await site.build()).made).toEqual([])
    expect(readFileSync(join(site.output, 'images', name)).equals(bytes)).toBe(true)
    rmSync(join(site.folder, '.pantry'), { recursive: true })
    // What the output has need not be made again, as far as it is known to be whole.
    expect((await site.build()).made).toEqual(['100 png'])

    const session = openSession({ host: site.host, configurationFile: 'pantry.config.ts' })
    await session.build(undefined)
    const path = join(site.folder, 'content/wide.jpg')
    for (const shade of [2, 3]) {
      writeFileSync(
        path,
        await photo(400, 200)
          .modulate({ brightness: shade / 4 })
          .jpeg()
          .toBuffer(),
      )
      await session.build(['content/wide.jpg'])
    }
    // Readers may still hold the output before the last.
    expect(site.images()).toHaveLength(2)
    expect(site.images()).not.toContain(name)
    expect(site.listed('.pantry/cache/images')).toHaveLength(3)
    const [entry] = await readEntries(site.output)
    expect(site.images().some((file) => JSON.stringify(entry).includes(file))).toBe(true)
  })

  test('are in bodies and fields of Markdown, in MDX alike, and given to the same component', async () => {
    const link = '![A "wide" one](../wide.jpg "With a title") ![][small]\n\n[small]: ../small%20one.png\n'
    const settings = { sources: { widths: [200], kinds: ['avif', 'webp'], sizes: '(min-width: 9em) 50vw' } }
    const own = { note: markdown({ optional: true }) }
    const site = makeSite(huts({ body: settings, fields: own }), {
      'huts/a.md': `---\nnote: '![n](../wide.jpg)'\n---\n${link}\n<img src="../wide.jpg" alt="">\n\n![](../drawn.svg)\n`,
      'huts/b.mdx': `---\n---\n${link}\n![](../drawn.svg)\n`,
    })
    const built = await site.build()
    expect(built.made).toEqual(['200 avif', '200 webp', '60 avif', '60 webp'])
    const { huts: collection } = await import(pathToFileURL(join(site.output, 'index.js')).href)
    const name = (stem: string, kind: string): string =>
      `/files/images/${site.images().find((one) => one.startsWith(stem) && one.endsWith(kind))}`
    const given = (width: number, stem: string) =>
      ['avif', 'webp'].map((kind) => ({
        type: `image/${kind}`,
        srcset: `${name(stem, kind)} ${width}w`,
        sizes: '(min-width: 9em) 50vw',
      }))
    const wide = {
      src: '/files/wide.jpg',
      alt: 'A "wide" one',
      title: 'With a title',
      width: 400,
      height: 200,
      sources: given(200, 'wide'),
    }
    const small = { src: '/files/small%20one.png', alt: '', width: 60, height: 40, sources: given(60, 'small') }
    const drawn = { src: '/files/drawn.svg', alt: '' }
    for (const id of ['a', 'b']) {
      const body = await collection.loadBody(id)
      const html = await renderHtml(body)
      expect(html).toContain(
        `<picture>${given(200, 'wide')
          .map(({ type, srcset, sizes }) => `<source type="${type}" srcset="${srcset}" sizes="${sizes}" />`)
          .join(
            '',
          )}<img src="/files/wide.jpg" alt="A &quot;wide&quot; one" title="With a title" width="400" height="200" /></picture>`.replaceAll(
          '&quot;',
          id === 'a' ? '&quot;' : '&#x22;',
        ),
      )
      const raw = id === 'a' ? [{ src: '/files/wide.jpg', alt: '' }] : []
      const shown: Loose[] = []
      const note = (given: object): string => {
        const { children: _, ...properties } = given as Loose
        shown.push(properties)
        return ''
      }
      await renderHtml(body, { image: note })
      expect(shown).toEqual([wide, small, ...raw, drawn])
      shown.length = 0
      const jsx = (type: unknown, properties: Loose): unknown => (typeof type === 'function' ? type(properties) : null)
      await renderNodes(body, { Fragment: ({ children }: Loose) => children, jsx, jsxs: jsx }, { image: note })
      expect(shown).toEqual([wide, small, ...raw, drawn])
    }
    const [entry] = await readEntries(site.output)
    expect((entry as { note: { html: string } }).note.html).toContain(
      `<source type="image/avif" srcset="${name('wide', 'avif')} 200w"`,
    )
    const [facts] = (entry as { body: { images: Loose[] } }).body.images
    expect(facts?.sources).toEqual(given(200, 'wide').map(({ type, srcset }) => ({ type, srcset })))
  })

  test('keep what a browser chooses by where HTML is sanitised', async () => {
    const settings = { rawHtml: 'sanitise', sources: { widths: [20], sizes: '9em' } }
    const configuration = pantry({ collections: { huts: { files: '*.md', body: settings, fields: {} } } } as never)
    const { site } = await openFiles({ ...pictures, 'a.md': '---\n---\n![w](wide.jpg)\n' }, configuration)
    const body = await openCollection<{ id: string }, unknown, string>(site, 'huts').loadBody('a')
    expect(body?.html).toMatch(/<source type="image\/webp" srcset="[^"]+" sizes="9em" \/>/)
  })

  test('that cannot be made are said, once each, and the last good output stays', async () => {
    const site = makeSite(huts(), { 'huts/a.yaml': 'photo: /wide.jpg\n' })
    await site.build()
    const before = site.images()
    const whole = readFileSync(join(site.folder, 'content/wide.jpg'))
    const broken = Buffer.concat([whole.subarray(0, 700), Buffer.alloc(300)])
    writeFileSync(join(site.folder, 'content/wide.jpg'), broken)
    const { diagnostics, output } = await buildSite({ host: site.host, configurationFile: 'pantry.config.ts' })
    expect(diagnostics.map((one) => [one.code, one.file])).toEqual([['image-unreadable', 'content/wide.jpg']])
    expect([output, site.images()]).toEqual([undefined, before])
  })

  test('take a package, which is asked for where a field asks for them, and nothing where none does', async () => {
    const asking = [
      huts({
        fields: { any: list(either([text({ pattern: '^a' }), group({ photo: fields.photo })]), { optional: true }) },
      }),
      huts({ body: { sources: {} }, fields: {} }),
      pantry({
        blocks: { b: { fields } },
        collections: { huts: { files: '*.yaml', fields: { b: list(block('b')) } } },
      }),
    ]
    const missing = async (configuration: object) => {
      const { host } = makeSite(configuration, {})
      const images = { missing: () => 'sharp', make: () => Promise.reject(new Error('never')) }
      const { diagnostics } = await checkSite({ host: { ...host, images }, configurationFile: 'pantry.config.ts' })
      return diagnostics.flatMap((one) => (one.code === 'config-package-missing' ? [messageOf(one)] : []))
    }
    expect((await Promise.all(asking.map(missing))).flat()).toEqual([
      'collections.huts.fields.any.item.1.photo.sources needs the package sharp, which is not installed',
      'collections.huts.body.sources needs the package sharp, which is not installed',
      'blocks.b.fields.photo.sources needs the package sharp, which is not installed',
    ])
    expect(await missing(huts({ fields: { photo: image() } }))).toEqual([])
    const plain = makeSite(huts({ fields: { photo: image({ alternative: 'none' }) } }), {
      'huts/a.yaml': 'photo: /wide.jpg\n',
    })
    expect(await plain.build()).toEqual({ said: [], made: [] })
    expect([plain.images(), plain.listed('.pantry/cache/images')]).toEqual([[], []])
  })
})
