import { readBytes } from '../engine/read-text.ts'
import { HostError } from '../host/host.ts'
import { createCallContext } from './call-context.ts'
import { createChangeCalls } from './change-calls.ts'
import { createEntryCalls } from './entry-calls.ts'
import type { InspectedSite } from './inspected-site.ts'
import { createLookCalls } from './look-calls.ts'
import { createQuestionCalls } from './question-calls.ts'

/** Makes what a page can ask of a site. Each takes plain data and gives plain data. */
export function createCalls(site: InspectedSite) {
  const context = createCallContext(site)
  return {
    ...createLookCalls(context),
    ...createQuestionCalls(context),
    ...createEntryCalls(context),
    ...createChangeCalls(context),
  }
}

/** The calls of a page by name. */
export type Calls = ReturnType<typeof createCalls>
export type CallName = keyof Calls
/** What a call takes. */
export type CallParameters<Name extends CallName> =
  Parameters<Calls[Name]> extends [infer Given, ...unknown[]] ? Given : Readonly<Record<string, never>>
/** What a call gives. */
export type CallAnswer<Name extends CallName> = Awaited<ReturnType<Calls[Name]>>

/** Answers a call; what is asked for wrongly is refused in words. */
export async function answerCall(calls: Calls, name: string, parameters: unknown): Promise<unknown> {
  const call = Object.hasOwn(calls, name) ? calls[name as CallName] : undefined
  if (!call) return { refused: `There is no call "${name}"` }
  try {
    return await (call as (given: unknown) => Promise<unknown>)(parameters ?? {})
  } catch (error) {
    if (error instanceof HostError) return { refused: `A file cannot be used: ${error.message}` }
    return { refused: error instanceof Error ? error.message : String(error) }
  }
}

/** The bytes of a file that a page may show: one of the content or of what is served as it is. */
export async function readShown(site: InspectedSite, path: string): Promise<Uint8Array | undefined> {
  const view = await site.view()
  if (!view) return undefined
  const { content } = view.model
  return view.site.listing.includes(path) ? readBytes(site.host, `${content}/${path}`) : undefined
}
