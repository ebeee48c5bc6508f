import type { bodyCodes } from '../catalogue/bodies.ts'
import type { Explanations } from './explanation.ts'

/** The meanings of the codes of bodies. */
export const bodyExplanations: Explanations<typeof bodyCodes> = {
  'block-unclosed': [
    'A block that is opened in a body with three colons or more goes on until a line with as many colons alone.',
    ':::callout{tone=warn}\nMind the bog.',
    ':::callout{tone=warn}\nMind the bog.\n:::',
  ],
  'html-untrusted': [
    'A body in a collection that is not trusted has raw HTML in it.',
    'Mind the <b>bog</b>.',
    'Mind the **bog**.',
  ],
  'plugin-failed': [
    'A plugin of the configuration threw an error while it read or rendered this body.',
    "markdownPlugins: [(markdown) => markdown.core.ruler.push('count', () => { throw new Error('…') })]",
    'markdownPlugins: []',
  ],
  'code-language-unknown': [
    'Code is coloured, but no colours are known for the language that a fence names.',
    '```tpyescript',
    '```typescript',
  ],
  'link-broken': [
    'A link or an image in a body leads to no file, entry or page. Links are relative to the file, or name an entry, or are the address of a page.',
    '[Gable](../huts/gabel.yaml)',
    '[Gable](../huts/gable.yaml)',
  ],
  'link-fragment': [
    'A link leads to a heading that is not there. Ids of headings are made from their text, or written as {#here}.',
    '[Down](#going-down)   // ## The way down',
    '[Down](#the-way-down)',
  ],
  'link-without-page': [
    'A link leads to an entry of a collection that names no address for its pages, so that it would lead nowhere in the output.',
    'Ask [Maren](../wardens/maren-holt.json).',
    "wardens: { files: 'wardens/*.json', address: 'url', … }",
  ],
  'address-duplicate': [
    'Two entries have one address, so that only one of their pages can be seen. A slash at the end makes no difference.',
    'from: (entry) => join([entry.slug])   // trails/gable and huts/gable',
    "from: (entry) => join(['trails', entry.slug])",
  ],
  'link-unpublished': [
    'A link leads to an entry that is a draft, not yet or no longer to be seen, so that its page is not there.',
    'Sleep at [Beck Hut](../huts/beck.md).   <!-- a draft -->',
    'Sleep at Beck Hut, which opens in May.',
  ],
  'link-source': [
    'A link leads to a file that a collection reads; the collection has private fields or drafts, which the file would publish.',
    'See [all huts](../huts.csv).',
    'See [all huts](../sheets/huts.csv).',
  ],
  'asset-unused': [
    'A file in the content folder is no content itself, no field names it and no body links to it. It is listed by `check --unused`.',
    'pictures/old-ridge.png   # named nowhere',
    'photo: { file: ../pictures/old-ridge.png, alt: The ridge in 1937 }',
  ],
  'page-unlinked': [
    'No body links to this page and no reference leads to it, so that readers find it in lists alone. It is listed by `check --unused`.',
    'trails/winter-way.md   # linked from nowhere',
    'In winter the [Winter Way](trails/winter-way) is open.',
  ],
  'mdx-syntax': ['The text of an MDX file is no Markdown with JSX.', 'A tent for {2 people', 'A tent for \\{2 people'],
  'mdx-untrusted': [
    'A collection that is not trusted has a file of MDX, which can run code.',
    'comments/first.mdx',
    'comments/first.md',
  ],
  'import-missing': [
    'The code of a body imports a file that is not there, or a package that is not installed. Files are relative to the body.',
    "import { Chart } from './chrat.jsx'",
    "import { Chart } from './chart.jsx'",
  ],
  'component-unknown': [
    'MDX uses a component that is neither imported, nor defined in the file, nor a block of the site.',
    '<Calout tone="warn">Mind the bog.</Calout>',
    '<Callout tone="warn">Mind the bog.</Callout>',
  ],
}
