/** To come. */
export default function NewPage() {
  return null
}
