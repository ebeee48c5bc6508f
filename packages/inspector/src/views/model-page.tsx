/** To come. */
export default function ModelPage() {
  return null
}
