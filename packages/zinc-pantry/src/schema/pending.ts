/** Stands in data for the value of a reference that is not resolved yet. */
export class Pending {
  readonly text: string
  value: unknown = null
  constructor(text: string) {
    this.text = text
  }
}
