import { useEffect, useId, useRef } from 'react'

/** Which way the current cell goes when an edit is kept. */
export type Leaving = 'down' | 'up' | 'right' | 'left' | 'stay'

/** The field in a cell that is being edited. Enter and Tab keep and go on, Escape gives up, leaving it keeps. */
export function CellInput({
  start,
  isReplacing,
  label,
  choices,
  onDone,
  onGiveUp,
}: {
  start: string
  /** True where what was there is typed over. */
  isReplacing: boolean
  label: string
  /** What may be chosen; empty where anything may be typed. */
  choices: readonly string[]
  onDone: (text: string, leaving: Leaving) => void
  onGiveUp: () => void
}) {
  const list = useId()
  const field = useRef<HTMLInputElement>(null)
  const isOver = useRef(false)
  useEffect(() => {
    field.current?.focus()
    if (!isReplacing) field.current?.select()
  }, [isReplacing])
  const end = (finish: () => void): void => {
    if (isOver.current) return
    isOver.current = true
    finish()
  }
  return (
    <>
      <input
        ref={field}
        className="cell-input"
        aria-label={label}
        defaultValue={start}
        {...(choices.length > 0 && { list })}
        onBlur={(event) => {
          const { value } = event.target
          end(() => onDone(value, 'stay'))
        }}
        onKeyDown={(event) => {
          event.stopPropagation()
          const { value } = event.currentTarget
          if (event.key === 'Enter') end(() => onDone(value, event.shiftKey ? 'up' : 'down'))
          else if (event.key === 'Tab') {
            event.preventDefault()
            end(() => onDone(value, event.shiftKey ? 'left' : 'right'))
          } else if (event.key === 'Escape') end(onGiveUp)
        }}
      />
      {choices.length > 0 && (
        <datalist id={list}>
          {choices.map((choice) => (
            <option key={choice} value={choice} />
          ))}
        </datalist>
      )}
    </>
  )
}
