import type { Html } from './html.ts'
import { type Locale, type WordKey, word } from './words.ts'

/** What every page is made for. */
export interface Making {
  readonly locale: Locale
  /** The day, as `YYYY-MM-DD`: notices begin and end. */
  readonly today: string
  /** The word of the language for something. */
  say(key: WordKey): string
}

/** One page, without what surrounds all of them. */
export interface Page {
  readonly title: string
  readonly description: string
  readonly main: Html
}

/** Files that a page brings with it, by their paths. */
export type PageFiles = ReadonlyMap<string, string>

/** Pages of one kind. */
export interface Section {
  /** The paths of all of them. */
  paths(making: Making): Promise<readonly string[]>
  /** The page at a path; undefined where it is none of these. */
  page(path: string, making: Making): Promise<Page | undefined>
  files?(making: Making): Promise<PageFiles>
}

/** Makes what pages are made for. */
export const createMaking = (locale: Locale, today: string): Making => ({
  locale,
  today,
  say: (key) => word(locale, key),
})
