/** The formats of files, by the names that settings call them. */
export const FORMAT_NAMES = ['markdown', 'mdx', 'yaml', 'json', 'jsonc', 'jsonl', 'toml', 'csv', 'tsv'] as const

/** The name of a format of files. */
export type FormatName = (typeof FORMAT_NAMES)[number]
