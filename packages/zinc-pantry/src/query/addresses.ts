import type { ConditionTree } from './condition.ts'
import type { NormalForm } from './negation-normal-form.ts'
import type { Crossing } from './shape.ts'

/** Finds the ids of a collection for which a condition holds, as a test of the value at a path. */
type AskIds = (path: readonly string[], target: string, condition: ConditionTree) => Promise<NormalForm>

/** What is asked of the entry that an address leads to, as a question for the collection and the id that it has. */
export async function asAddressTests(
  { before, targets = [] }: Crossing,
  asked: ConditionTree,
  askIds: AskIds,
): Promise<NormalForm> {
  const ways = targets.map(async (target): Promise<NormalForm> => {
    const isThere = { kind: 'test', path: [...before, 'collection'], operator: 'is', values: [target] } as const
    return { kind: 'and', parts: [isThere, await askIds([...before, 'id'], target, asked)] }
  })
  return { kind: 'or', parts: await Promise.all(ways) }
}

/** Reads something of the entries that addresses lead to; `through` reads it of those of one collection, by their ids. */
export async function throughAddresses(
  targets: readonly string[],
  values: readonly unknown[],
  through: (target: string, ids: readonly unknown[]) => Promise<unknown[]>,
): Promise<unknown[]> {
  const addresses = values as readonly ({ readonly collection: string; readonly id: string } | null | undefined)[]
  const found = await Promise.all(
    targets.map((target) =>
      through(
        target,
        addresses.map((one) => (one?.collection === target ? one.id : null)),
      ),
    ),
  )
  return values.map((_, at) => found.map((own) => own[at]).find((one) => one !== null) ?? null)
}
