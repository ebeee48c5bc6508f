/** The readers, for those who want values and placed diagnostics without a configuration. */
export { type DiagnosticJson, renderJson } from '../diagnostics/render-json.ts'
export type { PathSegment, PlacePart, ReadDocument, ReadResult, SourceText } from './document.ts'
export { readMarkdown } from './front-matter.ts'
export { readJson } from './json.ts'
export { readYaml, type YamlPart } from './yaml.ts'
