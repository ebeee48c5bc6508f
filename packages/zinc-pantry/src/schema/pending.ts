/** Stands in data for the value of a reference that is not resolved yet. */
export class Pending {
  readonly text: string
  value: unknown = null
  constructor(text: string) {
    this.text = text
  }
  /** Two references of one text are equal. */
  toJSON(): string {
    return this.text
  }
}
