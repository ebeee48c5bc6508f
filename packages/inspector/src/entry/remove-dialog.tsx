import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Dialog } from 'react-aria-components/Dialog'
import { Heading } from 'react-aria-components/Heading'
import { Modal, ModalOverlay } from 'react-aria-components/Modal'
import type { CallParameters, FieldModel, RecordView } from 'zinc-pantry/inspect'
import { RefControl } from '../form/ref-control.tsx'
import { plural } from '../parts/words.ts'

/** Asks what is to stand for an entry that goes. */
export function RemoveDialog({
  view: { head, usedBy },
  onClose,
  onChoose,
}: {
  readonly view: RecordView
  readonly onClose: () => void
  readonly onChoose: (request: Extract<CallParameters<'change'>['request'], { kind: 'remove' }>) => void
}) {
  const [other, setOther] = useState<string>()
  const field: FieldModel = {
    ...{ name: 'replacement', key: 'replacement', kind: 'ref', need: 'optional', expected: '' },
    ...{ isPrivate: false, isDeprecated: false, options: {}, leadsTo: { targets: [head.collection], by: 'id' } },
  }
  return (
    <ModalOverlay className="overlay" isOpen isDismissable onOpenChange={(isOpen) => (isOpen ? null : onClose())}>
      <Modal className="modal narrow">
        <Dialog className="dialog">
          <Heading slot="title">Remove {head.name}</Heading>
          <div className="dialog-body">
            {usedBy.length === 0 ? (
              <p>Nothing refers to it.</p>
            ) : (
              <div className="control">
                <p>
                  {plural(usedBy.length, 'place')} lead to it. They can lead to another entry from now on, which brings
                  both together; without one, references that may be left out are.
                </p>
                <div className="label">
                  <label htmlFor="replacement">Another that stands for it</label>
                </div>
                <RefControl
                  {...{ id: 'replacement', name: 'Another that stands for it', field, path: [], value: other }}
                  describedBy={undefined}
                  isInvalid={false}
                  isReadOnly={false}
                  onChange={(value) => setOther(value === undefined ? undefined : String(value))}
                />
              </div>
            )}
          </div>
          <footer>
            <Button className="button" onPress={onClose}>
              Cancel
            </Button>
            <Button
              className="button main"
              onPress={() => onChoose({ kind: 'remove', target: head.name, ...(other ? { replacement: other } : {}) })}
            >
              Go on
            </Button>
          </footer>
        </Dialog>
      </Modal>
    </ModalOverlay>
  )
}
