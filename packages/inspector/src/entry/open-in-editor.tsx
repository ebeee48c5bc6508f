import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { call, isRefusal } from '../site/calls.ts'
import { wordsOf } from '../site/use-call.ts'

/** Opens a file in the editor that runs on this machine. */
export function OpenInEditor({ file, line }: { readonly file: string; readonly line: number }) {
  const [said, setSaid] = useState('')
  const open = async (): Promise<void> => {
    setSaid('')
    try {
      const answer = await call('open', { file, line })
      if (isRefusal(answer)) setSaid(answer.refused)
    } catch (error) {
      setSaid(wordsOf(error))
    }
  }
  return (
    <>
      <Button className="plain" onPress={() => void open()}>
        Open in the editor
      </Button>
      {said === '' ? null : (
        <span role="status" className="error">
          {said}
        </span>
      )}
    </>
  )
}
