import { relative, sep } from 'node:path'

/** The path of a file from a folder, with forward slashes. */
export const relativeTo = (folder: string, path: string): string => relative(folder, path).split(sep).join('/')
