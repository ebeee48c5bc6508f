/** The token that lets this page in: it comes with the address that the terminal names, and is kept for further tabs. */
const KEY = 'pantry-token'

/** Takes the token out of the address, where it is there. */
function takeToken(): string {
  const given = /^#token=([\w-]+)$/.exec(window.location.hash)?.[1]
  if (given === undefined) return localStorage.getItem(KEY) ?? ''
  localStorage.setItem(KEY, given)
  window.history.replaceState(null, '', window.location.pathname + window.location.search)
  return given
}

export const token = takeToken()
