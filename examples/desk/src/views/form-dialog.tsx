import { Dialog, DialogDismiss, DialogHeading } from '@ariakit/react'
import type { ReactNode } from 'react'

/** A dialog that asks for something: what is filled in is kept by Enter or the button, or left. */
export function FormDialog({
  title,
  keep,
  isReady,
  isWide = false,
  onKeep,
  onClose,
  children,
}: {
  title: ReactNode
  /** What the button says that keeps it. */
  keep: string
  isReady: boolean
  isWide?: boolean
  /** Called where it is ready. */
  onKeep: () => void
  onClose: () => void
  children: ReactNode
}) {
  return (
    <Dialog open onClose={onClose} className={`dialog ${isWide ? 'wide' : ''}`} backdrop={<div className="backdrop" />}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (isReady) onKeep()
        }}
      >
        <DialogHeading className="dialog-heading">{title}</DialogHeading>
        {children}
        <div className="row">
          <button type="submit" className="go" disabled={!isReady}>
            {keep}
          </button>
          <DialogDismiss>Leave it</DialogDismiss>
        </div>
      </form>
    </Dialog>
  )
}
