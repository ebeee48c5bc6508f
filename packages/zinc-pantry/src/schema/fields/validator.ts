import { appendAll } from '../../diagnostics/append-all.ts'
import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type CheckRun, INVALID } from '../check-run.ts'
import type { Field, FieldLike, FieldSet, Fields } from '../field.ts'
import type { JsonSchema } from '../json-schema.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { isStandardValidator, type StandardIssue, type StandardValidator } from '../standard-validator.ts'

/** A field with a check of another library. */
export interface ValidatorField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'validator'
  readonly validator: StandardValidator
}

/** A field as such; a validator of another library is wrapped. */
export function asField(field: FieldLike): AnyField {
  // Fields come from our constructors; what does not is told when a configuration is read.
  if (!isStandardValidator(field)) return field as AnyField
  return { kind: 'validator', validator: field, options: acceptsNothing(field) ? { optional: true } : {} }
}

/** Named fields as such. */
export const asFields = (fields: FieldSet): Fields =>
  Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, asField(field)]))

/** A validator that lets `undefined` pass makes an optional field. */
function acceptsNothing(validator: StandardValidator): boolean {
  try {
    const result = validator['~standard'].validate(undefined)
    return !(result instanceof Promise) && result.issues === undefined
  } catch {
    return false
  }
}

export const validatorKind: Kind<ValidatorField> = {
  expected: () => 'a value',
  options: {},
  compile(field) {
    const standard = field.validator['~standard']
    return (value, run) => {
      try {
        const result = standard.validate(value)
        if (result instanceof Promise) run.report('validator-failed', { reason: 'it is asynchronous' })
        else if (result.issues) for (const issue of result.issues) reportIssue(issue, run)
        else return asPlain(result.value, run)
      } catch (error) {
        run.report('validator-failed', { reason: error instanceof Error ? error.message : String(error) })
      }
      return INVALID
    }
  },
  shape: () => ({ kind: 'anything' }),
  store: storeAsIs,
  valueType: (field, context) => context.declared(field) ?? 'unknown',
  handleType: (field, context) => `$.HandleOf<${context.declared(field) ?? 'unknown'}>`,
  jsonSchema: (field) => exportedSchema(field.validator),
}

function reportIssue({ path = [], message }: StandardIssue, run: CheckRun): void {
  const steps = path
    .map((step) => (typeof step === 'object' ? step.key : step))
    .map((key) => (typeof key === 'number' ? key : String(key)))
  appendAll(run.path, steps)
  run.report('validator-issue', { message })
  run.path.length -= steps.length
}

/** The value as plain JSON, which is all that the output can hold; a `Date` becomes its ISO text. */
function asPlain(value: unknown, run: CheckRun): unknown {
  const json = JSON.stringify(value)
  if (json !== undefined) return JSON.parse(json)
  if (value === undefined) return null
  run.report('validator-failed', { reason: `it gave ${describeValue(value)}, which is no JSON` })
  return INVALID
}

/** Some libraries export JSON Schema themselves, by the open Standard JSON Schema interface. */
function exportedSchema(validator: StandardValidator): JsonSchema {
  const exporter = (validator['~standard'] as { jsonSchema?: { input?(options: object): unknown } }).jsonSchema
  try {
    const schema = exporter?.input?.({ target: 'draft-2020-12' })
    return typeof schema === 'object' && schema !== null ? (schema as JsonSchema) : {}
  } catch {
    return {}
  }
}
