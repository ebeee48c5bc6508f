import type { Element, ElementContent, Root } from 'hast'
import { toJsxRuntime } from 'hast-util-to-jsx-runtime'
import type { StoredBody } from '../query/open-site.ts'
import { type Components, codeProperties, pictureProperties, wantedBy } from './components.ts'
import { toTree } from './to-tree.ts'

/** The automatic runtime of JSX, as frameworks export it from their `jsx-runtime`. */
export interface JsxRuntime {
  readonly Fragment: unknown
  // biome-ignore lint/suspicious/noExplicitAny: every framework has types of its own.
  jsx(type: any, properties: any, key?: any): any
  // biome-ignore lint/suspicious/noExplicitAny: every framework has types of its own.
  jsxs(type: any, properties: any, key?: any): any
}

type Properties = Readonly<Record<string, unknown>>

/**
 * Renders a body with the site's own components through any JSX runtime. Compiled MDX runs in that runtime too, so
 * what it imports can be components of the same framework.
 *
 * @example
 * ```ts
 * import type { StoredBody } from 'zinc-pantry/query'
 * import { type JsxRuntime, renderNodes } from 'zinc-pantry/render'
 *
 * declare const runtime: JsxRuntime
 * const body: StoredBody = { format: 'markdown', html: '<p>Mind the bog.</p>' }
 * const nodes = await renderNodes(body, runtime, { link: 'a' })
 * console.log(nodes)
 * ```
 */
export async function renderNodes(
  body: StoredBody,
  runtime: JsxRuntime,
  components: Components<unknown, unknown> = {},
): Promise<unknown> {
  if (body.compiled) return renderCompiled(body, runtime, components)
  const tree = await toTree(body)
  const wrappers: Record<string, (properties: Properties) => unknown> = {}
  const marked = { type: 'root', children: tree.children.map((node) => mark(node as ElementContent)) } as Root
  return toJsxRuntime(marked, {
    Fragment: runtime.Fragment,
    jsx: runtime.jsx,
    jsxs: runtime.jsxs,
    components: wrappers,
  } as never)

  /** Gives the elements of components tags of their own. */
  function mark(node: ElementContent): ElementContent {
    if (node.type !== 'element') return node
    const wanted = wantedBy(node)
    const component = wanted && (wanted.kind === 'block' ? components.blocks?.[wanted.name] : components[wanted.kind])
    const children = component && wanted?.kind === 'image' ? [] : node.children.map(mark)
    if (!component) return { ...node, children }
    const tagName = `component-${Object.keys(wrappers).length}`
    wrappers[tagName] = ({ children: inner }) => runtime.jsx(component, { ...wanted.properties, children: inner })
    return { type: 'element', tagName, properties: {}, children } satisfies Element
  }
}

async function renderCompiled(
  body: StoredBody,
  runtime: JsxRuntime,
  { image, link, code, table, blocks = {} }: Components<unknown, unknown>,
): Promise<unknown> {
  const own = Object.entries(body.components ?? {}).map(([name, block]) => [
    name,
    blocks[block] ?? plainBlock(runtime, block),
  ])
  const pictures = image === undefined ? undefined : createPictures(runtime, image)
  const { default: content } = (await body.compiled?.((pictures?.runtime ?? runtime) as never)) ?? {}
  const pre = ({ children, ...rest }: Properties): unknown =>
    runtime.jsx(code, { ...codeProperties(rest, classOf(children)), children })
  const nodes = { ...pictures?.components, a: link, table, pre: code && pre }
  const given = Object.entries(nodes).filter(([, component]) => component)
  return runtime.jsx(content, { components: { ...Object.fromEntries(given), ...Object.fromEntries(own) } })
}

/** What compiled MDX is given in the place of images, and a runtime that knows it. */
interface Pictures {
  readonly components: Properties
  readonly runtime: JsxRuntime
}

/**
 * Gives a component for images their sources too. JSX makes elements from within: those of the sources and of the image come right
 * before the `picture` that holds them.
 */
function createPictures(runtime: JsxRuntime, image: unknown): Pictures {
  const [img, source, picture] = [{}, {}, {}]
  let last: Properties = {}
  let sources: Properties[] = []
  const make =
    (jsx: JsxRuntime['jsx']): JsxRuntime['jsx'] =>
    (type, properties, key) => {
      if (type === source) {
        sources.push(properties)
        return null
      }
      if (type === img) {
        last = properties
        return sources.length > 0 ? null : runtime.jsx(image, properties, key)
      }
      if (type !== picture) return jsx(type, properties, key)
      const given = pictureProperties(last, sources)
      sources = []
      return runtime.jsx(image, given, key)
    }
  return {
    components: { img, source, picture },
    runtime: { ...runtime, jsx: make(runtime.jsx), jsxs: make(runtime.jsxs) },
  }
}

/** The class of the element `code`, where the runtime's elements let it be seen. */
const classOf = (child: unknown): unknown => (child as { props?: { className?: unknown } } | null)?.props?.className

/** The placeholder of a block that has no component. */
const plainBlock =
  ({ jsx }: JsxRuntime, block: string) =>
  ({ children, ...properties }: Properties): unknown =>
    jsx('div', { 'data-block': block, 'data-properties': JSON.stringify(properties), children })
