/** What is thrown where our own parser or writer is not sure: the whole text is the compiler's then. It has no stack, being no error. */
class Doubt {
  /** Why, for those who ask how much is taken. */
  readonly reason: string

  constructor(reason: string) {
    this.reason = reason
  }
}

/** Leaves a text to the compiler. */
export function doubt(reason: string): never {
  throw new Doubt(reason)
}

/** What a function gives, or nothing where it was not sure; `onDoubt` is told why. */
export function unlessInDoubt<Value>(work: () => Value, onDoubt?: (reason: string) => void): Value | undefined {
  try {
    return work()
  } catch (error) {
    // What is nested too deeply for this code may not be for the compiler.
    if (!(error instanceof Doubt || error instanceof RangeError)) throw error
    onDoubt?.(error instanceof Doubt ? error.reason : 'deep nesting')
    return undefined
  }
}
