import type { CallAnswer, CallName, CallParameters, CallRefusal } from 'zinc-pantry/inspect'
import { token } from './token.ts'

/** A call that has no answer: the server is gone, or does not let this page in. */
class CallError extends Error {
  readonly isLocked: boolean
  constructor(message: string, isLocked: boolean) {
    super(message)
    this.isLocked = isLocked
  }
}

/** Asks the server. What it refuses is an answer; what it cannot be asked is an error. */
export async function call<Name extends CallName>(
  name: Name,
  parameters: CallParameters<Name>,
  signal?: AbortSignal,
): Promise<CallAnswer<Name>> {
  const response = await fetch(`/call/${name}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-pantry-token': token },
    body: JSON.stringify(parameters ?? {}),
    ...(signal ? { signal } : {}),
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error
    throw new CallError('The inspector does not answer. Was it ended in the terminal?', false)
  })
  if (response.status === 401 || response.status === 403)
    throw new CallError('The inspector was started anew: open the address that the terminal names.', true)
  if (!response.ok) throw new CallError(await response.text(), false)
  return (await response.json()) as CallAnswer<Name>
}

/** True for an answer that says why there is none. */
export const isRefusal = (answer: unknown): answer is CallRefusal =>
  typeof answer === 'object' && answer !== null && 'refused' in answer

/**
 * A picture of the content as a data URL (RFC 2397). The address of a blob would have to be revoked, and a page that
 * still loads from it then reports an error.
 */
export async function loadPicture(path: string): Promise<string | undefined> {
  const response = await fetch(`/file?path=${encodeURIComponent(path)}`, { headers: { 'x-pantry-token': token } })
  if (!response.ok) return undefined
  const reader = new FileReader()
  reader.readAsDataURL(await response.blob())
  await new Promise((resolve) => reader.addEventListener('loadend', resolve))
  return typeof reader.result === 'string' ? reader.result : undefined
}
