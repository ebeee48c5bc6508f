/** To come. */
export default function EntryPage() {
  return null
}
