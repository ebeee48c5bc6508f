/** How much a problem matters: an error stops a build, a warning does not. */
export type Severity = 'error' | 'warning'
