/** What is known of a request before it is answered. */
export interface RequestFacts {
  readonly method: string
  readonly host: string | undefined
  readonly origin: string | undefined
  /** Of the header `Sec-Fetch-Site`, by Fetch Metadata Request Headers. */
  readonly site: string | undefined
  /** Of the header `Sec-Fetch-Mode`. */
  readonly mode: string | undefined
}

/** What is asked for: the page and its parts, which hold no content; a call; the channel of news. */
export type Asked = 'page' | 'call' | 'news'

/**
 * Says why a request is refused before its token is looked at; undefined where it may go on. A page of another site, also one whose name
 * was made to resolve to this machine, is told apart by the headers that browsers set and pages cannot.
 */
export function whyRefused(
  { method, host, origin, site, mode }: RequestFacts,
  asked: Asked,
  port: number,
): string | undefined {
  const hosts = ['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`)
  if (host === undefined || !hosts.includes(host)) return 'The host is not this machine'
  if (origin !== undefined && origin !== `http://${host}`) return 'It comes from another origin'
  const isNavigation = asked === 'page' && mode === 'navigate'
  const isOwn = site === undefined || site === 'same-origin' || site === 'none'
  if (!isOwn && !(isNavigation && site === 'same-site')) return 'It comes from another site'
  if (asked === 'call' && method !== 'POST') return 'A call is a POST'
  if (asked === 'page' && method !== 'GET' && method !== 'HEAD') return 'A page is got'
  return undefined
}

/** The headers of every answer: nothing from elsewhere runs or is loaded, and no other page may frame it. */
export function safetyHeaders(host: string, frames: readonly string[]): Readonly<Record<string, string>> {
  const policy = [
    "default-src 'none'",
    "script-src 'self'",
    // The text editor makes its styles as it goes.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    `connect-src 'self' ws://${host}`,
    `frame-src ${["'self'", ...frames].join(' ')}`,
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ]
  return {
    'content-security-policy': policy.join('; '),
    'x-frame-options': 'DENY',
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'cross-origin-resource-policy': 'same-origin',
    'cross-origin-opener-policy': 'same-origin',
  }
}
