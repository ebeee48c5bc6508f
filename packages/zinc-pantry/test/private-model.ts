import * as schema from 'zinc-pantry'

/** Chooses a whole number from 0, below a limit. */
export type Choose = (below: number) => number

/** A field as code of a configuration, and what makes its values: texts that are found in bytes. */
interface MadeField {
  readonly code: string
  value(hidden: boolean): unknown
}

/** A site whose every private value, draft and expired entry has a text of its own. */
export interface SecretSite {
  /** The argument of `pantry`, as code in which `p` is the package. */
  readonly code: string
  /** Below the root. */
  readonly files: Readonly<Record<string, string>>
  /** Texts that must be in no byte of the output. */
  readonly secrets: readonly string[]
  /** Texts that must be in it. */
  readonly shown: readonly string[]
}

/** Kinds whose values hold nothing of a writer's own, or nothing but the name of another entry. */
export const WITHOUT_TEXT = ['flag', 'choice', 'ref', 'reverse', 'history', 'variant', 'validator']

const optionsOf = (settings: Readonly<Record<string, unknown>>): string => JSON.stringify(settings)

/** Makes a site; the same choices make the same. */
export function makeSecretSite(choose: Choose, { isPlain = false } = {}): SecretSite {
  let count = 0
  const secrets: string[] = []
  const shown: string[] = []
  const files: Record<string, string> = {}
  const mark = (hidden: boolean): string => {
    const text = `${hidden ? 'hush' : 'open'}${++count}zq`
    ;(hidden ? secrets : shown).push(text)
    return text
  }
  const digits = (hidden: boolean): number => {
    const number = 7_301_000_000 + ++count
    ;(hidden ? secrets : shown).push(String(number))
    return number
  }
  const day = (hidden: boolean): string => {
    const text = `${2300 + (++count % 600)}-${String(1 + (count % 12)).padStart(2, '0')}-${String(1 + (count % 28)).padStart(2, '0')}`
    if (hidden) secrets.push(text)
    return text
  }
  const drawing = (hidden: boolean): string => {
    const name = mark(hidden)
    // Only a bundler copies files, so that their content is not looked for where it must be.
    const inside = `inside${name}`
    if (hidden) secrets.push(inside)
    files[`content/${name}.svg`] = `<svg xmlns="http://www.w3.org/2000/svg"><title>${inside}</title></svg>`
    return `/${name}.svg`
  }

  /** Every kind with values of its own. A kind that is not here, nor in {@link WITHOUT_TEXT}, fails a test. */
  const leaves: Readonly<Record<string, { readonly options?: object; value(hidden: boolean): unknown }>> = {
    text: { value: mark },
    markdown: { value: (hidden) => `*${mark(hidden)}*` },
    int: { value: digits },
    number: { value: digits },
    date: { value: day },
    time: { value: () => '09:41' },
    instant: { value: (hidden) => `${day(hidden)}T00:00:00Z` },
    duration: { value: (hidden) => `PT${digits(hidden)}S` },
    url: { value: (hidden) => `https://${mark(hidden)}.example/` },
    email: { value: (hidden) => `${mark(hidden)}@fells.example` },
    colour: { value: () => '#123456' },
    image: { options: { alternative: 'none' }, value: drawing },
    file: { value: drawing },
    anything: { value: (hidden) => ({ deep: [mark(hidden)] }) },
  }
  const containers: Readonly<Record<string, (depth: number, isPrivate: boolean) => MadeField>> = {
    list(depth, isPrivate) {
      const item = makeField(depth - 1, { mayBePrivate: false })
      return {
        code: `p.list(${item.code}, ${optionsOf(isPrivate ? { private: true } : {})})`,
        value: (hidden) => [item.value(hidden || isPrivate), item.value(hidden || isPrivate)],
      }
    },
    map(depth, isPrivate) {
      const item = makeField(depth - 1, { mayBePrivate: false })
      return {
        code: `p.map(${item.code}, ${optionsOf(isPrivate ? { private: true } : {})})`,
        value: (hidden) => ({ k1: item.value(hidden || isPrivate), k2: item.value(hidden || isPrivate) }),
      }
    },
    group(depth, isPrivate) {
      const inner = makeFields(depth - 1)
      return {
        code: `p.group(${inner.code}, ${optionsOf(isPrivate ? { private: true } : {})})`,
        value: (hidden) => inner.value(hidden || isPrivate),
      }
    },
    either(depth, isPrivate) {
      const inner = makeFields(depth - 1)
      return {
        code: `p.either([p.flag(), p.group(${inner.code}), p.list(p.text())], ${optionsOf(isPrivate ? { private: true } : {})})`,
        value: (hidden) => (choose(4) === 0 ? [mark(hidden || isPrivate)] : inner.value(hidden || isPrivate)),
      }
    },
    block(_depth, isPrivate) {
      const key = choose(2) === 0 ? 'block' : 'sort'
      return {
        code: `p.block({ key: '${key}'${isPrivate ? ', private: true' : ''} }, 'first', 'second')`,
        value: (hidden) => {
          const name = choose(2) === 0 ? 'first' : 'second'
          return { [key]: name, ...(blocks[name].value(hidden || isPrivate) as object) }
        },
      }
    },
  }
  const names = [...Object.keys(leaves), ...Object.keys(containers)]
  function makeField(depth: number, { mayBePrivate }: { readonly mayBePrivate: boolean }): MadeField {
    const isPrivate = mayBePrivate && choose(3) === 0
    const open = isPlain ? names.filter((name) => name !== 'file' && name !== 'image') : names
    const name = open[choose(depth > 0 ? open.length : open.length - 5)] ?? 'text'
    const container = containers[name]
    if (container) return container(depth, isPrivate)
    const { options = {}, value } = leaves[name] ?? leaves.text ?? { value: mark }
    return {
      code: `p.${name}(${optionsOf({ ...options, ...(isPrivate ? { private: true } : {}) })})`,
      value: (hidden) => value(hidden || isPrivate),
    }
  }
  /** A set of fields; where `mayVary` it can have two shapes. */
  function makeFields(depth: number, { mayVary = true } = {}): MadeField {
    const parts = Array.from({ length: 1 + choose(3) }, (_, at) => ({
      name: `f${at}`,
      field: makeField(depth, { mayBePrivate: true }),
    }))
    const codes = parts.map(({ name, field }) => `${name}: ${field.code}`)
    const valuesOf = (own: typeof parts, hidden: boolean): object =>
      Object.fromEntries(own.map(({ name, field }) => [name, field.value(hidden)]))
    if (!mayVary || choose(3) > 0)
      return { code: `{ ${codes.join(', ')} }`, value: (hidden) => valuesOf(parts, hidden) }
    const shapes = ['one', 'two'].map((shape) => ({
      shape,
      own: Array.from({ length: 2 }, (_, at) => ({ name: `v${at}`, field: makeField(depth, { mayBePrivate: true }) })),
    }))
    const sets = shapes.map(
      ({ shape, own }) => `${shape}: { ${own.map(({ name, field }) => `${name}: ${field.code}`).join(', ')} }`,
    )
    return {
      code: `{ ${[...codes, `shape: p.variant({ ${sets.join(', ')} })`].join(', ')} }`,
      value: (hidden) => {
        const chosen = shapes[choose(2)] as (typeof shapes)[number]
        return { ...valuesOf(parts, hidden), shape: chosen.shape, ...valuesOf(chosen.own, hidden) }
      },
    }
  }
  /** Blocks that hold each other, as deep as a value goes. */
  const makeBlock = (): { readonly code: string; value(hidden: boolean, depth?: number): object } => {
    const own = [
      { name: 'said', field: makeField(0, { mayBePrivate: true }) },
      { name: 'kept', field: { code: 'p.text({ private: true })', value: () => mark(true) } },
      { name: 'told', field: { code: 'p.markdown()', value: (hidden: boolean) => `*${mark(hidden)}*` } },
    ]
    const codes = own.map(({ name, field }) => `${name}: ${field.code}`)
    return {
      code: `{ fields: { ${codes.join(', ')}, parts: p.list(p.block('first', 'second'), { default: [] }) } }`,
      value(hidden, depth = 2) {
        const values = Object.fromEntries(own.map(({ name, field }) => [name, field.value(hidden)]))
        const inner = choose(2) === 0 ? 'first' : 'second'
        return {
          ...values,
          ...(depth === 0 ? {} : { parts: [{ block: inner, ...blocks[inner].value(hidden, depth - 1) }] }),
        }
      },
    }
  }
  const blocks = { first: makeBlock(), second: makeBlock() }

  const pages = makeFields(2)
  const entry = (hidden: boolean): object => pages.value(hidden) as object
  const state = (kind: number): object =>
    [{}, { draft: true }, { ends: '2001-01-01' }, { starts: '2900-01-01' }][kind] ?? {}
  const literal = (value: unknown): string => `{${JSON.stringify(value)}}`
  const bodies = (hidden: boolean): readonly string[] => {
    const block = choose(2) === 0 ? 'First' : 'Second'
    const values = Object.entries(blocks[block.toLowerCase() as 'first' | 'second'].value(hidden))
    return [
      mark(hidden),
      `<${block} ${values.map(([name, value]) => `${name}=${literal(value)}`).join(' ')} />`,
      // Where something is worked out, what is written out is hidden all the same.
      `<${block} ${values.map(([name, value]) => (name === 'said' ? 'said={[1].map(String)}' : `${name}=${literal(value)}`)).join(' ')} />`,
    ]
  }
  for (let at = 0; at < 4; at++) {
    const hidden = at > 0
    const id = hidden ? mark(true) : 'first-page'
    const front = JSON.stringify({ ...entry(hidden), ...state(at) })
    const [words, ...uses] = bodies(hidden)
    files[`content/pages/${id}.mdx`] = `---\n${front}\n---\n${words}\n\n${uses.join('\n\n')}\n`
  }
  files['content/many.json'] = JSON.stringify(
    [0, 1, 2, 3].map((kind) => ({ id: kind === 0 ? 'seen' : mark(true), ...entry(kind > 0), ...state(kind) })),
  )
  const publication = `publication: { draft: 'draft', from: 'starts', until: 'ends' }`
  const dates =
    'draft: p.flag({ default: false }), starts: p.date({ optional: true }), ends: p.date({ optional: true })'
  const fields = `{ ...${pages.code}, ${dates} }`
  const code = `{
    blocks: { first: ${blocks.first.code}, second: ${blocks.second.code} },
    collections: {
      pages: { files: 'pages/*.mdx', body: true, search: { body: 1 }, ${publication}, fields: ${fields} },
      many: { files: 'many.json', ${publication}, fields: ${fields} },
    },
  }`
  return { code, files, secrets, shown }
}

/** A configuration made from its code. */
export const configurationOf = ({ code }: SecretSite): unknown =>
  new Function('p', `return p.pantry(${code})`)(schema) as unknown
