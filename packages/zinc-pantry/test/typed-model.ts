import * as schema from 'zinc-pantry'
import type { Choose } from './private-model.ts'

/** A site with random fields, and content that is sound but for what its severities let pass. */
export interface TypedSite {
  /** The argument of `pantry`, as code in which `p` is the package. */
  readonly code: string
  /** Below the root. */
  readonly files: Readonly<Record<string, string>>
  /** Paths through the fields of `many`, as code of a handle, that can be picked. */
  readonly picks: readonly string[]
}

interface MadeField {
  readonly code: string
  value(): unknown
  /** The code of handles below this one; the first is the field itself. */
  readonly handles: readonly string[]
}

const OPTIONAL = '{ optional: true }'

/** Makes a site; the same choices make the same. */
export function makeTypedSite(choose: Choose): TypedSite {
  const isLenient = choose(3) === 0
  const oneOf = <Item>(items: readonly Item[]): Item => items[choose(items.length)] as Item
  let number = 0
  /** An entry of a collection; now and then one that is not there, where the site lets it pass. */
  const idOf = (collection: string): string =>
    isLenient && choose(3) === 0
      ? oneOf(['nobody', 'hidden'])
      : oneOf(collection === 'many' ? ['a', 'b'] : ['alder', 'birch'])

  type Maker = (depth: number, isOptional: boolean) => MadeField
  const leaf =
    (name: string, value: () => unknown, args: readonly string[] = []): Maker =>
    (_depth, isOptional) => ({
      code: `p.${name}(${[...args, ...(isOptional ? [OPTIONAL] : [])].join(', ')})`,
      value,
      handles: [''],
    })
  const makers: Readonly<Record<string, Maker>> = {
    text: leaf('text', () => `t${++number}`),
    markdown: leaf('markdown', () => `*m${++number}*`),
    int: leaf('int', () => ++number),
    number: leaf('number', () => ++number / 2),
    flag: leaf('flag', () => choose(2) === 0),
    date: leaf('date', () => '2026-05-01'),
    time: leaf('time', () => '09:30'),
    instant: leaf('instant', () => '2026-05-01T09:30:00Z'),
    duration: leaf('duration', () => 'PT2H'),
    choice: leaf('choice', () => oneOf(['one', "it's", 'two | three']), ['["one", "it\'s", "two | three"]']),
    url: leaf('url', () => 'https://fells.example/'),
    email: leaf('email', () => 'a@fells.example'),
    colour: leaf('colour', () => '#123456'),
    anything: leaf('anything', () => oneOf<unknown>([1, 'x', { a: [1] }])),
    ref: (_depth, isOptional) => {
      const target = oneOf(['many', 'other'])
      return {
        code: `p.ref('${target}'${isOptional ? `, ${OPTIONAL}` : ''})`,
        value: () => idOf(target),
        handles: target === 'other' ? ['', '.name', '.near', '.near.name'] : [''],
      }
    },
    refs: (_depth, isOptional) => ({
      code: `p.ref(['many', 'other']${isOptional ? `, ${OPTIONAL}` : ''})`,
      value: () => (choose(2) === 0 ? `many/${idOf('many')}` : `other/${idOf('other')}`),
      handles: ['', '.collection', '.id', '.slug'],
    }),
    refBy: (_depth, isOptional) => ({
      code: `p.ref('other', { by: 'name'${isOptional ? ', optional: true' : ''} })`,
      value: () => (isLenient && choose(3) === 0 ? 'Nobody' : 'Alder'),
      handles: ['', '.name'],
    }),
    list: (depth, isOptional) => {
      const item = make(depth - 1, choose(4) === 0)
      return {
        code: `p.list(${item.code}${isOptional ? `, ${OPTIONAL}` : ''})`,
        value: () => Array.from({ length: choose(3) }, item.value),
        handles: ['', '.count()', ...item.handles.filter((one) => one !== '').map((one) => `.each((it) => it${one})`)],
      }
    },
    map: (depth, isOptional) => {
      const item = make(depth - 1, false)
      const names = oneOf(['', "propertyNames: p.choice(['a b', 'c'])", "propertyNames: p.text({ pattern: 'a' })"])
      return {
        code: `p.map(${item.code}, { ${names}${names && isOptional ? ', ' : ''}${isOptional ? 'optional: true' : ''} })`,
        value: () => ({ 'a b': item.value() }),
        handles: ['', '.count()', '.keys()', ...item.handles.map((one) => `.at('a b')${one}`)],
      }
    },
    group: (depth, isOptional) => {
      const inner = makeFields(depth - 1)
      return {
        code: `p.group(${inner.code}${isOptional ? `, ${OPTIONAL}` : ''})`,
        value: inner.value,
        handles: ['', ...inner.handles],
      }
    },
    either: (depth, isOptional) => {
      const [one, other] = [makeFields(depth - 1), makeFields(0)]
      const [code, ...values] = oneOf<readonly [string, ...(() => unknown)[]]>([
        [`p.group(${one.code}), p.text()`, one.value, () => 'x'],
        [`p.group(${one.code}), p.group(${other.code})`, one.value, one.value],
        ['p.int(), p.text()', () => 1, () => 'x'],
        ['p.date(), p.choice(["soon"])', () => 'soon', () => '2026-05-01'],
        ['p.list(p.int()), p.list(p.text())', () => [1], () => ['x']],
      ])
      return {
        code: `p.either([${code}]${isOptional ? `, ${OPTIONAL}` : ''})`,
        value: () => oneOf(values)(),
        handles: [''],
      }
    },
    block: (_depth, isOptional) => {
      const key = oneOf(['block', 'sort-key'])
      return {
        code: `p.block({ key: '${key}'${isOptional ? ', optional: true' : ''} }, 'first', 'second')`,
        value: () => {
          const name = oneOf(['first', 'second'] as const)
          return { [key]: name, ...(blocks[name].value() as object) }
        },
        handles: ['', key === 'block' ? '.block' : '["sort-key"]'],
      }
    },
  }
  const names = Object.keys(makers)
  function make(depth: number, isOptional: boolean): MadeField {
    const name = names[choose(depth > 0 ? names.length : names.length - 5)] ?? 'text'
    return (makers[name] as Maker)(depth, isOptional)
  }
  function makeFields(depth: number): MadeField {
    const parts = Array.from({ length: 1 + choose(3) }, (_, at) => {
      const isOptional = choose(3) === 0
      return { name: at === 2 ? 'odd name' : `f${at}`, isOptional, field: make(depth, isOptional) }
    })
    const propertyOf = (name: string): string => (/^\w+$/.test(name) ? `.${name}` : `[${JSON.stringify(name)}]`)
    const codes = parts.map(({ name, field }) => `${JSON.stringify(name)}: ${field.code}`)
    const handles = parts.flatMap(({ name, field }) => field.handles.map((one) => propertyOf(name) + one))
    const valuesOf = (): object =>
      Object.fromEntries(
        parts.flatMap(({ name, isOptional, field }) => (isOptional && choose(2) === 0 ? [] : [[name, field.value()]])),
      )
    if (choose(3) > 0) return { code: `{ ${codes.join(', ')} }`, value: valuesOf, handles }
    const sets = oneOf([
      ['one', 'two'],
      ['a-b', 'aB'],
      ['é', 'ß'],
    ]).map((shape) => ({ shape, own: make(depth, false) }))
    const variants = sets.map(({ shape, own }) => `${JSON.stringify(shape)}: { own: ${own.code} }`)
    return {
      code: `{ ${[...codes, `shape: p.variant({ ${variants.join(', ')} })`].join(', ')} }`,
      value: () => {
        const { shape, own } = oneOf(sets)
        return { ...valuesOf(), shape, own: own.value() }
      },
      handles: [...handles, '.shape'],
    }
  }
  const blocks = { first: makeFields(1), second: makeFields(0) }
  const fields = makeFields(2)
  const locales = choose(3) === 0
  const mayHaveNoBody = choose(2) === 0
  const entry = (more: object = {}): string => JSON.stringify({ ...(fields.value() as object), ...more })
  const code = `{
    ${locales ? "locales: ['en', 'no']," : ''}
    severities: ${isLenient ? "{ 'ref-dangling': 'warning', 'ref-unpublished': 'off', 'ref-ambiguous': 'warning', 'single-missing': 'warning' }" : '{}'},
    blocks: { first: { fields: ${blocks.first.code} }, second: { fields: ${blocks.second.code} } },
    collections: {
      many: {
        files: ${mayHaveNoBody ? "'many/*.{md,json}'" : "'many/*.md'"}, body: true, ${locales ? "locales: 'suffix'," : ''}
        fields: ${fields.code},
        derive: { first: { field: p.ref('other', { optional: true }), from: () => 'alder' }, count: { field: p.list(p.int()), from: () => [1] } },
      },
      other: {
        files: 'other/*.json', publication: { draft: 'draft' },
        fields: { name: p.text(), draft: p.flag({ default: false }), near: p.ref('other', { optional: true }), back: p.reverse('many', 'f0', { optional: true }) },
      },
      front: { files: 'front.md', single: true, body: true, ${choose(2) === 0 ? "publication: { draft: 'draft' }," : ''} fields: { title: p.text(), draft: p.flag({ default: false }) } },
    },
  }`
  const withReverse = /f0"?: p\.ref\('other'/.test(fields.code) && fields.code.startsWith('{ "f0": p.ref(\'other\'')
  const isDraft = code.includes("front.md', single: true, body: true, publication") && choose(2) === 0
  return {
    code: withReverse ? code : code.replace(", back: p.reverse('many', 'f0', { optional: true })", ''),
    files: {
      'content/many/a.md': `---\n${entry()}\n---\n# A\n\n![x](https://fells.example/a.png)\n`,
      ...(mayHaveNoBody ? { 'content/many/b.json': entry() } : { 'content/many/b.md': `---\n${entry()}\n---\n` }),
      ...(locales
        ? { 'content/many/a.no.md': `---\n${entry()}\n---\nAa\n`, 'content/many/only.no.md': `---\n${entry()}\n---\n` }
        : {}),
      'content/other/alder.json': '{"name": "Alder", "near": "birch"}',
      'content/other/birch.json': '{"name": "Birch"}',
      'content/other/hidden.json': '{"name": "Hidden", "draft": true}',
      'content/front.md': `---\ntitle: Front\ndraft: ${isDraft}\n---\nText\n`,
    },
    picks: [
      ...new Set([...fields.handles, '.id', '.slug', '.first', '.first.name', '.count']),
      ...['', '.firstImage', '.images', '.outline', '.words', '.format', '.excerpt'].map((one) => `.body${one}`),
    ],
  }
}

/** A configuration made from its code. */
export const typedConfiguration = ({ code }: TypedSite): unknown =>
  new Function('p', `return p.pantry(${code})`)(schema) as unknown
