/** What a list was last made into. */
export interface ListMemory<Item, Made> {
  last?: { readonly items: readonly Item[]; readonly made: readonly Made[] }
}

/** After so many differences the rest is looked up. */
const MANY = 64

/**
 * Makes something of every item of a list, or takes what was made of the very same object the last time, wherever it
 * stood, where that is still right. Gives the very list of the last time where nothing in it changed. Lists side by
 * side were measured at a tenth of the time of weak maps, which cost the collection of garbage dear.
 */
export function mapAgain<Item, Made>(
  memory: ListMemory<Item, Made> | undefined,
  items: readonly Item[],
  { make, isRight = () => true }: { make(item: Item): Made; isRight?(made: Made, item: Item): boolean },
): readonly Made[] {
  const last = memory?.last
  if (!memory || !last) {
    const made = items.map(make)
    if (memory) memory.last = { items, made }
    return made
  }
  let misses = 0
  let places: Map<Item, Made> | undefined
  const lookUp = (item: Item): Made | undefined => {
    if (++misses < MANY && items.length === last.items.length) return undefined
    places ??= new Map(last.items.map((one, at) => [one, last.made[at] as Made]))
    return places.get(item)
  }
  let isSame = items.length === last.items.length
  const made: Made[] = []
  for (let at = 0; at < items.length; at++) {
    const item = items[at] as Item
    const known = last.items[at] === item ? last.made[at] : lookUp(item)
    const result = known !== undefined && isRight(known, item) ? known : make(item)
    if (result !== last.made[at]) isSame = false
    made.push(result)
  }
  const list = isSame ? last.made : made
  memory.last = { items, made: list }
  return list
}

/** Memories by name, made when they are asked for. */
export function memoryOf<Memory extends object>(
  memories: Map<string, Memory> | undefined,
  name: string,
): Memory | undefined {
  if (!memories) return undefined
  const known = memories.get(name) ?? ({} as Memory)
  memories.set(name, known)
  return known
}
