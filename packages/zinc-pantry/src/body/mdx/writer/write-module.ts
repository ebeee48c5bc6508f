import type { Root } from 'hast'
import { unlessInDoubt } from '../doubt.ts'
import { writeComments } from './code.ts'
import { createUses, findPrograms, type Uses, writeRoot } from './elements.ts'
import { type WrittenStatements, writeStatements } from './statements.ts'

/**
 * Writes the body of the function that a text of MDX is compiled to, straight from its tree of HTML, to the very bytes that the
 * compiler makes of it; nothing where it is not sure to. The compiler builds a syntax tree of JavaScript for it, goes over it five
 * times and prints it, which takes longer than all that is before.
 */
export function writeModule(tree: Root, onDoubt?: (reason: string) => void): string | undefined {
  return unlessInDoubt(() => {
    const uses = createUses()
    const statements = writeStatements(findPrograms(tree))
    const content = writeRoot(tree, uses, statements.defined)
    return [
      writeComments(uses.comments),
      writeHead(uses, statements),
      ...statements.lines.map((line) => `${line}\n`),
      writeFunction(uses, content),
      writeEnd(uses, statements),
    ].join('')
  }, onDoubt)
}

function writeHead({ hasFragments, hasLists }: Uses, { hasImports }: WrittenStatements): string {
  const names = [...(hasFragments ? ['Fragment: _Fragment'] : []), 'jsx: _jsx', ...(hasLists ? ['jsxs: _jsxs'] : [])]
  return `"use strict";\nconst {${names.join(', ')}} = arguments[0];\n${hasImports ? IMPORT_BASE : ''}`
}

const IMPORT_BASE = `const _importMetaUrl = arguments[0].baseUrl;
if (!_importMetaUrl) throw new Error("Unexpected missing \`options.baseUrl\` needed to support \`export … from\`, \`import\`, or \`import.meta.url\` when generating \`function-body\`");
`

function writeFunction({ tags, given, wanted }: Uses, content: string): string {
  const names = [...given].sort()
  const pattern = names.length > 0 ? `{${names.join(', ')}} = ` : ''
  const fields = [...tags].sort().map((tag) => `    ${tag}: "${tag}",\n`)
  const components = `_components = {\n${fields.join('')}    ...props.components\n  }`
  const head =
    tags.size > 0
      ? `  const ${components}${pattern && `, ${pattern}_components`};\n`
      : pattern && `  const ${pattern}props.components || ({});\n`
  const checks = allWanted(wanted).map(
    ([name, isComponent]) => `  if (!${name}) _missingMdxReference("${name}", ${isComponent});\n`,
  )
  return `function _createMdxContent(props) {\n${head}${checks.join('')}  return ${content};\n}\n`
}

/** With each name those of the objects that hold it. */
function allWanted(wanted: ReadonlyMap<string, boolean>): [string, boolean][] {
  const all = new Map(wanted)
  for (const name of wanted.keys()) {
    const parts = name.split('.')
    for (let count = 1; count < parts.length; count++) {
      const object = parts.slice(0, count).join('.')
      if (!all.has(object)) all.set(object, false)
    }
  }
  return [...all].sort(([one], [other]) => (one < other ? -1 : 1))
}

function writeEnd({ wanted }: Uses, { exported, hasImports }: WrittenStatements): string {
  const names = exported.map((name) => `  ${name},\n`)
  return `${CONTENT}return {\n${names.join('')}  default: MDXContent\n};\n${hasImports ? RESOLVE : ''}${wanted.size > 0 ? MISSING : ''}`
}

const CONTENT = `function MDXContent(props = {}) {
  const {wrapper: MDXLayout} = props.components || ({});
  return MDXLayout ? _jsx(MDXLayout, {
    ...props,
    children: _jsx(_createMdxContent, {
      ...props
    })
  }) : _createMdxContent(props);
}
`

const RESOLVE = `function _resolveDynamicMdxSpecifier(d) {
  if (typeof d !== "string") return d;
  try {
    new URL(d);
    return d;
  } catch {}
  if (d.startsWith("/") || d.startsWith("./") || d.startsWith("../")) return new URL(d, _importMetaUrl).href;
  return d;
}
`

const MISSING = `function _missingMdxReference(id, component) {
  throw new Error("Expected " + (component ? "component" : "object") + " \`" + id + "\` to be defined: you likely forgot to import, pass, or provide it.");
}
`
