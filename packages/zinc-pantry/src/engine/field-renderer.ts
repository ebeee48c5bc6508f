import type { Highlighter } from '../body/highlighter.ts'
import { createFieldRenderer } from '../body/markdown/markdown-body.ts'
import type { FieldRenderer } from '../emit/stored-entry.ts'
import type { BodyModel } from '../schema/body-settings.ts'
import type { CollectionModel } from '../schema/model.ts'

/** Raw HTML in fields of collections without bodies. */
const PLAIN: BodyModel = {
  extensions: true,
  rawHtml: 'keep',
  trusted: true,
  components: 'declared',
  headingId: undefined,
  sources: undefined,
  mdx: 'own',
  markdownPlugins: [],
  remarkPlugins: [],
  rehypePlugins: [],
}

/** Renders Markdown in the fields of a collection; what renders it is made when there is any. */
export function createLazyFieldRenderer(
  { body, trusted }: Pick<CollectionModel, 'body' | 'trusted'>,
  highlighter: Highlighter | undefined,
): FieldRenderer {
  let render: FieldRenderer | undefined
  return (text, rewrite) => {
    render ??= createFieldRenderer(trusted ? body : { ...(body ?? PLAIN), rawHtml: 'drop' }, { highlighter })
    return render(text, rewrite)
  }
}
