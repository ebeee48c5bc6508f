/** The placeholder of a text that is not to be shown. */
const HIDDEN = '…'

/** An address as it may be shown: without a name and a password, and without the values of its query. */
export function showAddress(address: string): string {
  try {
    const url = new URL(address)
    const host = `${url.protocol}//${url.username || url.password ? `${HIDDEN}@` : ''}${url.host}${url.pathname}`
    const names = [...url.searchParams.keys()]
    return names.length === 0 ? host : `${host}?${names.map((name) => `${name}=${HIDDEN}`).join('&')}`
  } catch {
    return address.replace(/\/\/[^/]*@/, `//${HIDDEN}@`).replace(/\?[\s\S]*/, `?${HIDDEN}`)
  }
}

/** A text in which secrets cannot be read, whoever made it. */
export function redact(text: string, secrets: readonly string[]): string {
  const all = [...new Set(secrets)].filter((secret) => secret !== '').sort((a, b) => b.length - a.length)
  return all.reduce((shown, secret) => shown.replaceAll(secret, HIDDEN), text)
}

/** The parts of an address that are not to be shown. */
export function secretsOf(address: string): readonly string[] {
  try {
    const { username, password, search, searchParams } = new URL(address)
    const parts = [username, password, decodeURIComponent(username), decodeURIComponent(password)]
    return [address, search, ...parts, ...searchParams.values()]
  } catch {
    return [address]
  }
}
