type Random = (below: number) => number
type Make = () => string

/** Texts of MDX that hold a bit of everything, in every order, most of which can be read: the same for the same numbers. */
export function createDocuments(random: Random): Make {
  const pick = <Value>(list: readonly Value[]): Value => list[random(list.length)] as Value
  const one = (list: readonly (string | Make)[]): string => {
    const found = pick(list)
    return typeof found === 'string' ? found : found()
  }
  const many = (most: number, make: Make, between = ''): string =>
    Array.from({ length: random(most) + 1 }, make).join(between)

  const word = (): string => pick(WORDS)
  const inline = (depth: number): string => {
    if (depth === 0) return word()
    const inner = (): string => inline(depth - 1)
    return one([
      ...[word, word, word, () => many(3, inner, ' ')],
      ...['*', '**', '_', '***', '~~', '~'].map((sign) => () => sign + inner() + sign),
      ...[() => `\`${word()}\``, () => `\`\` \` ${word()}\`\``, () => `[${inner()}]`, () => `[${word()}][ref]`],
      () => `[${inner()}](${pick(ADDRESSES)})`,
      () => `![${inner()}](u.png${pick(['', ' "t"'])})`,
      ...[() => `<b>${inner()}</b>`, () => `{${pick(CODE)}}`],
      ...LEFT_OVER,
    ])
  }
  const text = (): string => many(4, () => inline(2), pick([' ', ' ', '', '  ']))
  const paragraph = (): string =>
    many(3, () => pick(['', '', '', ' ', '   ', '     ']) + text(), pick(['\n', '\n', '  \n', '\\\n']))

  /** A few lines of a container are written without what belongs in front of them. */
  const within = (lines: string, marker: string, isRepeated: boolean): string =>
    lines
      .split('\n')
      .map((line, at) => {
        if (at === 0 || (isRepeated && random(20) > 0)) return marker + line
        return line === '' || random(25) === 0 ? line : ' '.repeat(marker.length) + line
      })
      .join('\n')

  const list = (depth: number): string => {
    const item = (): string => within(blocks(depth, ['\n', '\n\n']), pick(MARKERS), false)
    return many(3, item, pick(['\n', '\n', '\n\n']))
  }
  const element = (depth: number): string => {
    const name = pick(['A', 'div', 'a.b', 'x:y'])
    const gap = (): string => pick(['', '\n'])
    const start = `<${name}${pick(['', ' b="c"', ' {...d}', '\n  e={1}\n', ' f'])}>`
    return `${start}\n${gap()}${depth === 0 ? paragraph() : block(depth - 1)}\n${gap()}</${name}>`
  }
  const row = (): string =>
    `${pick(['| ', '']) + text().replaceAll('\n', ' ')} | ${word()}${pick([' |', '', ' | x |'])}`
  const fence = (): string =>
    `${pick(FENCES)}${pick(['', 'js', 'js {1} x="y"', ' ts  '])}\n${pick(['', 'code\n', '  code\n\n  more\n', 'a\tb\n', '{x\n<y\n'])}${pick([...FENCES, '  ```  ', ''])}`
  const blocks = (depth: number, between: readonly string[]): string =>
    depth === 0 ? paragraph() : many(2, () => block(depth - 1), pick(between))
  const block = (depth: number): string =>
    one([
      ...[paragraph, paragraph, paragraph, fence, () => list(depth), () => list(depth), () => element(depth)],
      () => '#'.repeat(random(7) + 1) + pick([' ', ' ', '', '  ']) + text() + pick(['', ' #', ' ##  ', '#']),
      () => `${text()}\n${pick(['===', '---', '==', '-', '--- '])}`,
      () => within(blocks(depth, ['\n\n']), pick(['> ', '> ', '>']), true),
      () =>
        `| ${text()} | ${word()} |\n|${pick(['---|---', ':--|:-:', ' --- | ---: ', '---'])}|\n${many(2, row, '\n')}`,
      () => `a | b\n-|-\n${word()} | ${inline(1)}`,
      () => `<C />${pick(['', ' ', '{1}', '<D/>', ' x'])}`,
      () => `{${pick(['1', '/* c */', '\n  a.map((x) => x)\n', 'a\n\n+ b', '((x))\n'])}}${pick(['', '  ', ' x'])}`,
      () => `[ref]: ${pick(['/u', '<u v>', '/u "t"', "/u 't'", '/u (t)', '', '\n/u'])}`,
      ...[() => `[^n]: ${paragraph()}`, () => `[^n]: a\n\n    ${word()}`, () => `${word()}\n- ${word()}`],
      ...STATEMENTS,
      ...['---', '***', '_ _ _', '- - -', '--', '* * *', '-', '1.', '>', '  ', '[x y]: u', 'term\n: def'],
    ])
  const url = (): string => `http${pick(['', 's'])}://${many(8, () => pick(ADDRESS_SIGNS))}`
  const signs = (): string => many(22, () => pick(SIGNS))
  const document = (): string =>
    one([
      ...[() => many(4, () => block(2), pick(['\n', '\n\n', '\n\n'])) + pick(['', '\n']), () => block(2), text, signs],
      () => many(3, () => one([paragraph, signs]), '\n'),
      () => many(3, () => one([url, word]), pick([' ', '', ' '])),
      () => pick(['- ', '> ', '| a |\n|---|\n| ']) + url(),
    ])
  return () => {
    const lines = document()
    const kind = random(12)
    if (kind > 2) return lines
    return kind === 0 ? lines.replaceAll('\n', () => pick(['\n', '\r\n'])) : lines.replaceAll('\n', '\r\n')
  }
}

const WORDS = [
  ...['a', 'bc', 'def', 'x1', 'é', "don't", '“q”', '日本', '😀', 'b_c', '1.', '2)', '-', 'A.B', 'e.g.', '...', 'a/b'],
  ...['@x/y', '50%', '"q"'],
]
const ADDRESSES = ['u', '/a b', '<a b>', 'u "t"', '#x', '', 'a(b)c', "u 't'", 'u (t)', 'u&amp;v', 'u\\)']
const CODE = [
  '1',
  'a.b',
  '"}"',
  '/* c */',
  // biome-ignore lint/suspicious/noTemplateCurlyInString: code that holds a template.
  '`x${1}y`',
  '{a: 1}',
  '<i>x</i>',
  '[1].map((x) => { return x })',
  "'{'",
  "' '",
]
const LEFT_OVER = [
  ...['[ref]', '[ref][]', '[^n]', '<B c="d" {...e} f={1 + 2} />', '<br/>', '&amp;', '&copy;x', '&#35;', '&nope;'],
  ...[
    '\\*',
    '\\[',
    '\\',
    'a  ',
    'http://a.b/c',
    'https://a.b/c_d.',
    'www.a.b',
    'x@y.z',
    'a < b',
    '<>a</>',
    '<c-d>e</c-d>',
  ],
  ...['*', '_', '**', '~', '`', '[', ']', '!', '(', ')', '|', '\\|', '#', '>', '}'],
]
const MARKERS = ['- ', '- ', '* ', '+ ', '1. ', '1. ', '2. ', '10) ', '-   ', ' - ', '- [ ] ', '- [x] ']
const FENCES = ['```', '````', '~~~', '   ```']
const STATEMENTS = [
  'import a from "b"',
  'import {h, i as j} from "k"\nexport const l = 1, m = {n: [1]}',
  'export const c = {\n  d: 1,\n\n  e: 2\n}',
  'export const f = 1\nexport default g',
  'export function o(p) { return p }',
  'import {q} from "r"\nx',
]
const ADDRESS_SIGNS = [
  ...['a', 'b.c', '-', '_', '.', '/', '(', ')', ']', '[', '*', '~', '!', '?', '&amp;', '&', ';', ',', 'x', '<', "'"],
  ...['"', ':', '#', '=', '{', '|'],
]
const SIGNS = [
  ...['a', 'b', ' ', ' ', '\n', '\n', '*', '_', '**', '~', '~~', '`', '[', ']', '(', ')', '!', '<', '>', '/', '{', '}'],
  ...[
    '\\',
    '&',
    ';',
    '#',
    '-',
    '+',
    '.',
    ':',
    '|',
    '=',
    '1',
    '"',
    "'",
    '^',
    '@',
    '   ',
    '- ',
    '1. ',
    '> ',
    '<b>',
    '</b>',
  ],
  ...['<c/>', '&amp;', '[a]: b', '```', 'http://', '---', '|-|', '[^a]', ': ', ']('],
]
