/** Writes a text in ASCII: letters of other scripts by the sounds or the letters that stand for them. */
export type Transliterator = (text: string) => string

/** Loads the tables of all scripts, which take a moment, where something has to be written in ASCII only. */
export const loadTransliterator = async (isNeeded: boolean): Promise<Transliterator> =>
  isNeeded ? (await import('any-ascii')).default : (text) => text
