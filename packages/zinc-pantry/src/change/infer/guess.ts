/** What a field most likely is, with the reason: plain data that {@link writeField} writes as code. */
export interface Guess {
  /** The name of the constructor: `text`, `list`. */
  readonly kind: string
  /** The words of a choice, or the collections that a reference leads to. */
  readonly words?: readonly string[]
  /** The fields of a group. */
  readonly fields?: readonly GuessedField[]
  /** The item of a list or a map; what a value may be of `either`. */
  readonly items?: readonly Guess[]
  readonly options?: Readonly<Record<string, unknown>>
  /** What was seen, in a few words: `5 different`. */
  readonly why?: string
}

/** A field that a configuration is to have. */
export interface GuessedField {
  readonly name: string
  /** The key in the files. */
  readonly key: string
  readonly guess: Guess
  /** In how many records it is, of how many. */
  readonly count: number
  readonly total: number
  /** False where at least one record lacks it. */
  readonly isRequired: boolean
}

/** A record of the content, before there is any schema. */
export interface SeenRecord {
  /** Relative to the content folder. */
  readonly file: string
  readonly value: Readonly<Record<string, unknown>>
  /** The key that it stands under, or what its path gives. */
  readonly name: string
}

/** Something in the content that is most likely a mistake. */
export interface Suspicion {
  readonly file: string
  readonly words: string
}

/** A collection that a configuration is to have. */
export interface GuessedCollection {
  readonly name: string
  readonly files: readonly string[]
  readonly settings: Readonly<Record<string, unknown>>
  readonly fields: readonly GuessedField[]
  readonly count: number
  readonly why: string
}

/** What is known of the files of a site. */
export interface Surroundings {
  /** Whether a text is the path of a file, as it stands in a file. */
  isFile(path: string, from: string): boolean
  /** The collection that the texts of a key lead to. */
  targetOf(key: string, values: readonly string[]): Guess | undefined
}
