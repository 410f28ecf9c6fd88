import { type ReactNode, useRef } from 'react'
import { FocusScope } from 'react-aria/FocusScope'
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components'
import { messages } from '../../../messages'
import { useDocumentKeys } from '../../state/use-document-keys'

interface ModalDialogProps {
  /** Its name, where no title stands in it. */
  readonly label?: string
  /** Of the box: its width, and how it lays out what is in it. */
  readonly className?: string
  /** Of what is in the box, in place of room around it. */
  readonly contentClassName?: string
  /** Of the layer that covers the page, where the box does not stand in its middle. */
  readonly layerClassName?: string
  /** A click beside it closes it: only where nothing that was typed can be lost. */
  readonly isClosedBeside?: boolean
  readonly onClose: () => void
  readonly children: ReactNode
}

/** A dialog over the page, which waits until it is closed: the first field has the focus, Escape closes it, and the focus goes back to where it was. */
export function ModalDialog({
  label,
  className = 'max-w-2xl',
  contentClassName = 'p-6',
  layerClassName = 'modal modal-open',
  isClosedBeside = false,
  onClose,
  children,
}: ModalDialogProps) {
  const ref = useRef<HTMLElement>(null)
  // A button that is disabled while it works loses the focus to the page: the next key is the dialog's all the same.
  useDocumentKeys(
    (event) => {
      const dialog = ref.current
      if (!dialog || (event.target as Element).closest?.('[data-modal]')) return
      if (![...document.querySelectorAll('[data-modal]')].at(-1)?.contains(dialog)) return
      event.stopPropagation()
      dialog.focus()
      if (event.key === 'Escape') onClose()
    },
    { capture: true },
  )
  return (
    <ModalOverlay
      isOpen
      onOpenChange={(isOpen) => !isOpen && onClose()}
      isDismissable={isClosedBeside}
      className={layerClassName}
      data-modal
    >
      <Modal className={`modal-box max-h-[94vh] border ruled p-0 ${className}`}>
        <Dialog ref={ref} className={`outline-none ${contentClassName}`} {...(label ? { 'aria-label': label } : {})}>
          <FocusScope autoFocus>{children}</FocusScope>
        </Dialog>
      </Modal>
    </ModalOverlay>
  )
}

/** The title of a dialog, which names it. */
export function DialogTitle({ children, className = 'mb-4' }: { children: ReactNode; className?: string }) {
  return (
    <Heading slot="title" className={`text-2xl font-semibold ${className}`}>
      {children}
    </Heading>
  )
}

interface DialogActionsProps {
  /** A form is cancelled, what only shows something is closed. */
  readonly leaveBy: 'cancel' | 'close'
  readonly onLeave: () => void
  /** What it does beside that. */
  readonly children?: ReactNode
}

/** The foot of a dialog: the way out of it first, then what it does. */
export function DialogActions({ leaveBy, onLeave, children }: DialogActionsProps) {
  return (
    <div className="modal-action">
      <button type="button" className={`btn ${leaveBy === 'cancel' ? 'btn-ghost' : ''}`} onClick={onLeave}>
        {messages.common[leaveBy]}
      </button>
      {children}
    </div>
  )
}

/** Why what was asked for in a dialog was not done. */
export function DialogProblem({ error }: { error: Error | null }) {
  return error ? (
    <p role="alert" className="mt-3 text-error">
      {error.message}
    </p>
  ) : null
}
