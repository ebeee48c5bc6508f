import type { ConditionTree } from './condition.ts'
import type { Crossing } from './shape.ts'

/**
 * What is asked of the entry that an address leads to, as pairs of questions of which both must hold: for the collection, and for the
 * id that it has there.
 */
export const asAddressTests = <Form>(
  { before, targets = [] }: Crossing,
  askIds: (path: readonly string[], target: string) => Promise<Form>,
): Promise<readonly (readonly [Test, Form])[]> =>
  Promise.all(
    targets.map(async (target) => {
      const isThere: Test = { kind: 'test', path: [...before, 'collection'], operator: 'is', values: [target] }
      return [isThere, await askIds([...before, 'id'], target)] as const
    }),
  )

type Test = Extract<ConditionTree, { readonly kind: 'test' }>

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
