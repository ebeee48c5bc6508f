import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Dialog } from 'react-aria-components/Dialog'
import { Heading } from 'react-aria-components/Heading'
import { Modal, ModalOverlay } from 'react-aria-components/Modal'
import type { CallParameters, HeadView } from 'zinc-pantry/inspect'

/** Asks for the new id of an entry. */
export function RenameDialog({
  head: { name, id },
  onClose,
  onChoose,
}: {
  readonly head: HeadView
  readonly onClose: () => void
  readonly onChoose: (request: Extract<CallParameters<'change'>['request'], { kind: 'rename' }>) => void
}) {
  const [text, setText] = useState(id)
  return (
    <ModalOverlay className="overlay" isOpen isDismissable onOpenChange={(isOpen) => (isOpen ? null : onClose())}>
      <Modal className="modal narrow">
        <Dialog className="dialog">
          <form
            onSubmit={(event) => {
              event.preventDefault()
              if (text !== '' && text !== id) onChoose({ kind: 'rename', target: name, name: text })
            }}
          >
            <Heading slot="title">Rename {name}</Heading>
            <div className="dialog-body">
              <label className="control">
                <span className="label">Its new id</span>
                <input value={text} onChange={(event) => setText(event.target.value)} autoFocus />
              </label>
              <p className="quiet">Its file, all references and all links to it change with it.</p>
            </div>
            <footer>
              <Button className="button" onPress={onClose}>
                Cancel
              </Button>
              <Button className="button main" type="submit" isDisabled={text === '' || text === id}>
                See what changes
              </Button>
            </footer>
          </form>
        </Dialog>
      </Modal>
    </ModalOverlay>
  )
}
