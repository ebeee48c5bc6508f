import type { ConditionTree, SortKey } from '../query/condition.ts'
import type { Site } from '../query/open-site.ts'
import { type Shape, stepInto } from '../query/shape.ts'
import { computedKind, parseStep } from '../values/computed-steps.ts'
import { COUNT_STEP, KEYS_STEP } from '../values/steps.ts'
import { type Question, type QuestionProblem, readQuestion } from './read-question.ts'

/** A question as code to copy. */
export interface QuestionCode {
  /** TypeScript that uses the generated module. */
  readonly typescript: string
  /** A command line. */
  readonly command: string
}

/** Writes a question as a query in TypeScript and as a command line. */
export async function writeQuestionCode(
  site: Site,
  question: Question,
): Promise<QuestionCode | { problem: QuestionProblem }> {
  const read = await readQuestion(site, question)
  if ('problem' in read) return read
  const { collection, condition, search, sort = [], limit, offset } = read.request
  const entry = site.shapes.get(collection) as Shape
  const writer = createWriter(site)
  const name = /^[A-Za-z_$][\w$]*$/.test(collection) ? collection : 'entries'
  const calls = [
    ...(condition ? [`.where((entry) => ${writer.condition(condition, 'entry', entry)})`] : []),
    ...(search === undefined ? [] : [`.search(${quote(search)})`]),
    ...(sort.length === 0 ? [] : [`.sort((entry) => ${writeSort(sort, (path) => writer.path(path, 'entry', entry))})`]),
    ...(offset ? [`.offset(${offset})`] : []),
    ...(limit === undefined ? [] : [`.limit(${limit})`]),
    ...(question.fields === undefined
      ? []
      : [`.pick((entry) => (${writePick(read.fields, (path) => writer.value(path, 'entry', entry))}))`]),
    '.toArray()',
  ]
  const from = name === collection ? name : `${quote(collection)} as ${name}`
  const lines = calls.map((call) => `\n  ${call}`).join('')
  return {
    typescript: `import { ${from} } from '#pantry'\n\nconst rows = await ${name}${lines}\n`,
    command: writeCommand(question),
  }
}

/** A text as TypeScript writes it. */
const quote = (text: string): string =>
  `'${JSON.stringify(text).slice(1, -1).replaceAll('\\"', '"').replaceAll("'", "\\'")}'`

const writeName = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? `.${name}` : `[${quote(name)}]`)

function createWriter({ shapes }: Site) {
  /** The handle of a path, and what is at its end. */
  function follow(
    path: readonly string[],
    from: string,
    start: Shape,
  ): { readonly code: string; readonly shape: Shape } {
    let code = from
    let shape = start
    for (const name of path) {
      if (name === COUNT_STEP || name === KEYS_STEP) code += `.${name}`
      else if (computedKind(shape, name)) code += writeStep(name, shape.kind === 'list')
      else code += shape.kind === 'map' ? `.at(${quote(name)})` : writeName(name)
      shape = stepInto(shape, name, shapes) ?? { kind: 'text' }
    }
    return { code, shape }
  }
  function condition(tree: ConditionTree, from: string, shape: Shape): string {
    switch (tree.kind) {
      case 'and':
      case 'or': {
        const [first = '', ...others] = tree.parts.map((part) => condition(part, from, shape))
        return `${first}.${tree.kind}(${others.join(', ')})`
      }
      case 'not':
        return `${condition(tree.part, from, shape)}.not()`
      case 'compare':
        return `${follow(tree.path, from, shape).code}.${tree.operator}(${follow(tree.other, from, shape).code})`
      case 'test': {
        const { code } = follow(tree.path, from, shape)
        const values = tree.values.map((value) => (typeof value === 'string' ? quote(value) : String(value)))
        const isList = tree.operator === 'isOneOf' || tree.operator === 'isNoneOf'
        return `${code}.${tree.operator}(${isList ? `[${values.join(', ')}]` : values.join(', ')})`
      }
      default: {
        const { code, shape: many } = follow(tree.path, from, shape)
        const item = from === 'entry' ? 'item' : `${from}Item`
        const inner = many.kind === 'list' ? many.item : many
        return `${code}.${tree.kind}((${item}) => ${condition(tree.part, item, inner)})`
      }
    }
  }
  /** What a pick gives of a path: through lists, of each item. */
  function value(path: readonly string[], from: string, shape: Shape): string {
    const at = path.findIndex(
      (_, depth) => depth > 0 && follow(path.slice(0, depth), from, shape).shape.kind === 'list',
    )
    if (at === -1) return follow(path, from, shape).code
    const { code, shape: list } = follow(path.slice(0, at), from, shape)
    const item = from === 'entry' ? 'item' : `${from}Item`
    return `${code}.each((${item}) => ${value(path.slice(at), item, list.kind === 'list' ? list.item : list)})`
  }
  return {
    condition,
    value,
    path: (path: readonly string[], from: string, shape: Shape) => follow(path, from, shape).code,
  }
}

/** The method of a step to what is computed of a value. */
function writeStep(step: string, isOfItems: boolean): string {
  const { name = '', argument = '' } = parseStep(step) ?? {}
  if (isOfItems)
    return argument === '' ? `.${name}()` : `.${name}((item) => item${argument.split('.').map(writeName).join('')})`
  if (name === 'band') return `.band(${argument.split(',').join(', ')})`
  return `.${name}(${name === 'initial' && argument !== '' ? quote(argument) : ''})`
}

function writeSort(keys: readonly SortKey[], pathOf: (path: readonly string[]) => string): string {
  const written = keys.map(({ path, direction }) => `${pathOf(path)}.${direction}()`)
  return written.length === 1 ? (written[0] ?? '') : `[${written.join(', ')}]`
}

/** Longer picks have a line for each value. */
const LONGEST = 70

function writePick(
  fields: readonly { readonly name: string; readonly path: readonly string[] }[],
  writeValue: (path: readonly string[]) => string,
): string {
  const pairs = fields.map(({ name, path }) => {
    const key = /^[A-Za-z_$][\w$]*$/.test(name) ? name : quote(name)
    return `${key}: ${writeValue(path)}`
  })
  const line = `{ ${pairs.join(', ')} }`
  return line.length <= LONGEST ? line : `{\n${pairs.map((pair) => `    ${pair},\n`).join('')}  }`
}

/** The same question for a shell by POSIX. */
function writeCommand({ collection, where, search, sort, fields, facets, limit, offset, locale }: Question): string {
  const options = { where, search, sort, fields, facets, limit, offset, locale }
  const written = Object.entries(options).flatMap(([name, value]) => {
    if (value === undefined || value === '') return []
    const text = String(value)
    return [`--${name} ${/^[\w.,-]+$/.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`}`]
  })
  return ['zinc-pantry query', collection, ...written].join(' ')
}
