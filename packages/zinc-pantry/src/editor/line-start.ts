/** The offset at which the line of a place begins. */
export const lineStartOf = (text: string, offset: number): number =>
  offset <= 0 ? 0 : text.lastIndexOf('\n', offset - 1) + 1
