/** To come. */
export default function QuestionPage() {
  return null
}
