import { useSyncExternalStore } from 'react'
import type { SiteStatus } from 'zinc-pantry/inspect'
import { token } from './token.ts'

/** What the server tells by itself. */
export interface News {
  readonly status: SiteStatus | undefined
  readonly isConnected: boolean
}

const RETRY_MS = 1_500
let news: News = { status: undefined, isConnected: false }
const listeners = new Set<() => void>()

function set(next: Partial<News>): void {
  news = { ...news, ...next }
  for (const listener of listeners) listener()
}

function connect(): void {
  const socket = new WebSocket(`ws://${window.location.host}/news`, ['pantry', token])
  socket.onmessage = ({ data }) => set({ status: JSON.parse(String(data)) as SiteStatus, isConnected: true })
  socket.onclose = () => {
    set({ isConnected: false })
    setTimeout(connect, RETRY_MS)
  }
}
connect()

/** The state of the site, as it was told last. */
export const useNews = (): News =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => news,
  )
