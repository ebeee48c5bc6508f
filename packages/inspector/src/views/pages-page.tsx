/** To come. */
export default function PagesPage() {
  return null
}
