/** True for a language (BCP 47) by whose rules texts can be put in order here. */
export function isCollation(language: string): boolean {
  try {
    return Intl.Collator.supportedLocalesOf(language).length > 0
  } catch {
    return false
  }
}
