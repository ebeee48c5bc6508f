/** Renders compiled bodies with a site's own components: to HTML, through any JSX runtime, or as an open tree. */
export { type BlockData, bodyOfBlocks } from './block-body.ts'
export type {
  CodeProperties,
  Components,
  ImageProperties,
  LinkProperties,
  NodeComponents,
  TableProperties,
} from './components.ts'
export { renderHtml } from './render-html.ts'
export { type JsxRuntime, renderNodes } from './render-nodes.ts'
export { toTree } from './to-tree.ts'
