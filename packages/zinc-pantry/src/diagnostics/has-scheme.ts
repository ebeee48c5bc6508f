const SCHEME = /^[a-z][a-z\d+.-]*:/i

/** True for an address that begins with a scheme, by RFC 3986, section 3.1, and so leads out of the site. */
export const hasScheme = (address: string): boolean => address.includes(':') && SCHEME.test(address)
