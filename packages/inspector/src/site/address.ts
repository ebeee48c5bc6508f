import { type MouseEvent, useSyncExternalStore } from 'react'

/** The views of the page by the first part of their address. */
export type ViewName = 'overview' | 'collection' | 'entry' | 'new' | 'model' | 'pages' | 'problems' | 'question'

/** Where somebody is: the view and what it shows, all of it in the address. */
export interface Address {
  readonly view: ViewName
  readonly values: URLSearchParams
}

const VIEWS: ReadonlySet<string> = new Set(['collection', 'entry', 'new', 'model', 'pages', 'problems', 'question'])
const listeners = new Set<() => void>()
const tell = (): void => {
  for (const listener of listeners) listener()
}
window.addEventListener('popstate', tell)

let text = ''
let read: Address = { view: 'overview', values: new URLSearchParams() }

function readAddress(): Address {
  const { pathname, search } = window.location
  if (pathname + search === text) return read
  text = pathname + search
  const name = pathname.slice(1)
  read = { view: VIEWS.has(name) ? (name as ViewName) : 'overview', values: new URLSearchParams(search) }
  return read
}

/** The present address. */
export const useAddress = (): Address =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, readAddress)

/** Writes the address of a view. */
export function addressOf(view: ViewName, values: Readonly<Record<string, string | undefined>> = {}): string {
  const given = Object.entries(values).flatMap(([name, value]) =>
    value === undefined || value === '' ? [] : [[name, value] as [string, string]],
  )
  const search = new URLSearchParams(given).toString()
  return `/${view === 'overview' ? '' : view}${search === '' ? '' : `?${search}`}`
}

/** Asks somebody before what is typed is left; gives whether to go on. */
let mayLeave: () => boolean = () => true

/** Sets what is asked before another view is shown. */
export function guardLeaving(guard: (() => boolean) | undefined): void {
  mayLeave = guard ?? (() => true)
}

/** Goes somewhere. */
export function goTo(address: string, { isReplacing = false }: { readonly isReplacing?: boolean } = {}): void {
  if (address === window.location.pathname + window.location.search) return
  if (!isReplacing && !mayLeave()) return
  window.history[isReplacing ? 'replaceState' : 'pushState'](null, '', address)
  if (!isReplacing) window.scrollTo(0, 0)
  tell()
}

/** Changes some values of the present address; empty ones go. */
export function changeAddress(
  changes: Readonly<Record<string, string | readonly string[] | undefined>>,
  { isReplacing = true }: { readonly isReplacing?: boolean } = {},
): void {
  const values = new URLSearchParams(window.location.search)
  for (const [name, value] of Object.entries(changes)) {
    values.delete(name)
    for (const one of [value ?? []].flat()) if (one !== '') values.append(name, one)
  }
  const search = values.toString()
  goTo(`${window.location.pathname}${search === '' ? '' : `?${search}`}`, { isReplacing })
}

/** Follows a link within the page, unless it is to be opened elsewhere. */
export function followLink(event: MouseEvent<Element>): void {
  const { metaKey, ctrlKey, shiftKey, button, currentTarget } = event
  if (metaKey || ctrlKey || shiftKey || button !== 0) return
  event.preventDefault()
  // Links of drawings have no address of their own taken apart.
  const { pathname, search } = new URL(currentTarget.getAttribute('href') ?? '', window.location.href)
  goTo(pathname + search)
}
