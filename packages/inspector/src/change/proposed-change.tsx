import { useEffect, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Dialog } from 'react-aria-components/Dialog'
import { Heading } from 'react-aria-components/Heading'
import { Modal, ModalOverlay } from 'react-aria-components/Modal'
import type { CallRefusal, ChangeView } from 'zinc-pantry/inspect'
import { Notice, Refused } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { call, isRefusal } from '../site/calls.ts'
import { wordsOf } from '../site/use-call.ts'
import { ChangeDetails } from './change-details.tsx'
import { type Proposed, propose } from './propose.ts'

/** Shows what a change would do, and makes it. */
export default function ProposedChange({ change: { title, request, onMade } }: { readonly change: Proposed }) {
  const onClose = (): void => propose(undefined)
  const [planned, setPlanned] = useState<ChangeView | CallRefusal>()
  const [made, setMade] = useState<ChangeView>()
  const [isBusy, setBusy] = useState(false)
  useEffect(() => {
    const controller = new AbortController()
    call('change', { request, dryRun: true }, controller.signal).then(
      (answer) => setPlanned('stale' in answer ? { refused: 'The file is another by now' } : answer),
      (error: unknown) => {
        if (!controller.signal.aborted) setPlanned({ refused: wordsOf(error) })
      },
    )
    return () => controller.abort()
  }, [request])
  const apply = async (anyway: boolean): Promise<void> => {
    setBusy(true)
    try {
      const answer = await call('change', { request, dryRun: false, anyway })
      if (isRefusal(answer)) setPlanned(answer)
      else if (!('stale' in answer)) {
        if (answer.isWritten) {
          setMade(answer)
          onMade?.(answer)
        } else setPlanned(answer)
      }
    } catch (error) {
      setPlanned({ refused: wordsOf(error) })
    }
    setBusy(false)
  }
  const undo = async (): Promise<void> => {
    const answer = await call('undo', {})
    if (isRefusal(answer)) setPlanned(answer)
    else onClose()
    setMade(undefined)
  }
  const view = planned && !isRefusal(planned) ? planned : undefined
  const isEmpty = view !== undefined && view.steps.length === 0
  return (
    <ModalOverlay
      className="overlay"
      isOpen
      isDismissable={!isBusy}
      onOpenChange={(isOpen) => (isOpen ? null : onClose())}
    >
      <Modal className="modal">
        <Dialog className="dialog">
          <Heading slot="title">{title}</Heading>
          <div className="dialog-body">
            {planned === undefined ? (
              <p className="quiet">It is tried out, and all of the site checked with it…</p>
            ) : null}
            {planned && isRefusal(planned) ? <Refused refused={planned} /> : null}
            {made ? (
              <Notice tone="good">Done: {made.words}. It can be undone as long as nobody touches its files.</Notice>
            ) : null}
            {isEmpty ? <Notice>There is nothing to change.</Notice> : null}
            {view && !made ? <ChangeDetails change={view} /> : null}
          </div>
          <footer>
            {made ? (
              <>
                <Button className="button" onPress={() => void undo()}>
                  Undo it
                </Button>
                <Button className="button main" onPress={onClose} autoFocus>
                  Close
                </Button>
              </>
            ) : (
              <>
                <Button className="button" onPress={onClose}>
                  Cancel
                </Button>
                {view && !isEmpty ? (
                  <Button
                    className={view.isHeld ? 'button danger' : 'button main'}
                    isDisabled={isBusy || view.changed.length > 0}
                    onPress={() => void apply(view.isHeld)}
                  >
                    {view.isHeld
                      ? `Make it with ${plural(view.problems.length, 'new problem')}`
                      : `Change ${plural(view.files.length, 'file')}`}
                  </Button>
                ) : null}
              </>
            )}
          </footer>
        </Dialog>
      </Modal>
    </ModalOverlay>
  )
}
