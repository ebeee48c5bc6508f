import { stemmer } from 'stemmer'
import { foldText } from './words.ts'

/** What is known of the words of a language. */
export interface Language {
  /** The stem of a word in lower case. */
  stem(word: string): string
  /** Words that say little by themselves, such as articles. */
  readonly stopWords: readonly string[]
  /** True where words are put together into one, as `Berghütte` is. */
  readonly hasCompounds: boolean
}

type Plugin = (registry: Registry) => void
type Loader = () => Promise<{ readonly default: unknown }>

/** What a plugin of a language adds itself to. */
interface Registry {
  [language: string]: unknown
}

/** The Snowball stemmers by language (BCP 47), each loaded when it is needed. */
const LOADERS: { readonly [language: string]: Loader } = {
  ar: () => import('lunr-languages/lunr.ar.js'),
  da: () => import('lunr-languages/lunr.da.js'),
  de: () => import('lunr-languages/lunr.de.js'),
  el: () => import('lunr-languages/lunr.el.js'),
  es: () => import('lunr-languages/lunr.es.js'),
  fi: () => import('lunr-languages/lunr.fi.js'),
  fr: () => import('lunr-languages/lunr.fr.js'),
  hu: () => import('lunr-languages/lunr.hu.js'),
  hy: () => import('lunr-languages/lunr.hy.js'),
  it: () => import('lunr-languages/lunr.it.js'),
  nl: () => import('lunr-languages/lunr.nl.js'),
  no: () => import('lunr-languages/lunr.no.js'),
  pl: () => import('lunr-languages/lunr.pl.js'),
  pt: () => import('lunr-languages/lunr.pt.js'),
  ro: () => import('lunr-languages/lunr.ro.js'),
  ru: () => import('lunr-languages/lunr.ru.js'),
  sv: () => import('lunr-languages/lunr.sv.js'),
  tr: () => import('lunr-languages/lunr.tr.js'),
}

const COMPOUNDING = ['da', 'de', 'fi', 'hu', 'nl', 'no', 'sv']
/** Languages that another one's stemmer is for as well. */
const SAME: { readonly [language: string]: string } = { nb: 'no', nn: 'no' }
const ENGLISH_STOP_WORDS =
  'a about after all also an and any are as at be been but by can could did do does for from had has have he her his how i if in into is it its just me my no not of on or our out she should so some such than that the their them then there these they this those to too up us was we were what when where which who why will with would you your'

/** The language whose stemmer serves one (BCP 47); undefined where there is none. */
export function stemmedLanguage(locale: string): string | undefined {
  const [primary = ''] = locale.toLowerCase().split('-')
  const language = SAME[primary] ?? primary
  return language === 'en' || Object.hasOwn(LOADERS, language) ? language : undefined
}

/** Loads what is known of a language, by the name that {@link stemmedLanguage} gives. */
export async function loadLanguage(language: string): Promise<Language> {
  if (language === 'en') {
    return { stem: stemmer, stopWords: ENGLISH_STOP_WORDS.split(' '), hasCompounds: false }
  }
  const [support, plugin] = await Promise.all([
    import('lunr-languages/lunr.stemmer.support.js'),
    (LOADERS[language] as Loader)(),
  ])
  const registry: Registry = {
    Pipeline: { registerFunction: () => undefined },
    trimmerSupport: { generateTrimmer: () => undefined },
    generateStopWordFilter: (words: readonly string[]) => words,
  }
  for (const add of [support, plugin]) (add.default as Plugin)(registry)
  const added = registry[language] as {
    readonly stemmer: (word: string) => string
    readonly stopWordFilter: readonly string[]
  }
  return { stem: added.stemmer, stopWords: added.stopWordFilter, hasCompounds: COMPOUNDING.includes(language) }
}

/** True for what has a stem: numbers, paths and names with signs have none. */
export const isInflected = (word: string): boolean => /^\p{L}+$/u.test(word)

/** The stems of a word as it is compared, and as it is written: who searches may leave out its marks. */
export const stemsOf = (word: string, written: string, { stem }: Language): ReadonlySet<string> =>
  new Set(isInflected(word) ? [foldText(stem(written)), stem(word)].filter((one) => one !== '') : [])
