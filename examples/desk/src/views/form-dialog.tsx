import { Dialog, DialogDismiss, DialogHeading } from '@ariakit/react'
import type { ReactNode } from 'react'

/** A dialog that asks for something: what is filled in is kept by Enter or the button, or left. */
export function FormDialog({
  title,
  keep,
  isReady,
  isWide = false,
  onKeep,
  onRemove,
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
  /** Takes away what is asked about, where it is there and can go. */
  onRemove?: (() => void) | undefined
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
          {onRemove !== undefined && (
            <button type="button" className="quiet-button apart" onClick={onRemove}>
              Remove it
            </button>
          )}
        </div>
      </form>
    </Dialog>
  )
}
