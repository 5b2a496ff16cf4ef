import { useEffect, useRef } from 'react'

/** The field in a cell that is being edited. Enter keeps, Escape gives up, leaving it keeps. */
export function CellInput({
  start,
  label,
  onDone,
  onGiveUp,
}: {
  start: string
  label: string
  onDone: (text: string) => void
  onGiveUp: () => void
}) {
  const field = useRef<HTMLInputElement>(null)
  const isOver = useRef(false)
  useEffect(() => {
    field.current?.focus()
    field.current?.select()
  }, [])
  const end = (finish: () => void): void => {
    if (isOver.current) return
    isOver.current = true
    finish()
  }
  return (
    <input
      ref={field}
      className="cell-input"
      aria-label={label}
      defaultValue={start}
      onBlur={(event) => {
        const { value } = event.target
        end(() => onDone(value))
      }}
      onKeyDown={(event) => {
        event.stopPropagation()
        const { value } = event.currentTarget
        if (event.key === 'Enter') end(() => onDone(value))
        else if (event.key === 'Escape') end(onGiveUp)
      }}
    />
  )
}
