/** The name of the component of a block: `image-pair` is `<ImagePair>`. */
export const componentName = (block: string): string =>
  block.replace(/(?:^|[-_])([a-z\d])/gi, (_whole, letter: string) => letter.toUpperCase())
