/** All that MDX needs, which is loaded when there is any: together, since the files that they share would be many otherwise. */
export { createProcessor } from '@mdx-js/mdx'
export { default as remarkGfm } from 'remark-gfm'
export { default as remarkRehype } from 'remark-rehype'
export { unified } from 'unified'
export { VFile } from 'vfile'
export { parseMdx } from './parser/parse-mdx.ts'
export { writeModule } from './writer/write-module.ts'
