import { useEffect, useId, useRef, useState } from 'react'

/** A field that is kept when it is left or Enter is pressed; Escape brings back what was there. */
export function Field({
  label,
  value,
  offers = [],
  hint,
  isFirst = false,
  isFixed,
  onKeep,
}: {
  label: string
  value: string
  offers?: readonly string[]
  /** What holds while nothing is typed. */
  hint?: string | undefined
  isFirst?: boolean
  isFixed: boolean
  onKeep: (value: string) => void
}) {
  const [typed, setTyped] = useState(value)
  const field = useRef<HTMLInputElement>(null)
  const list = useId()
  useEffect(() => setTyped(value), [value])
  useEffect(() => {
    if (!isFirst) return
    field.current?.focus()
    field.current?.select()
  }, [isFirst])
  const keep = (): void => {
    if (typed !== value) onKeep(typed)
  }
  return (
    <label className="field">
      <span>{label}</span>
      <input
        ref={field}
        value={typed}
        placeholder={hint}
        disabled={isFixed}
        {...(offers.length > 0 && { list })}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === 'Enter') keep()
          if (event.key === 'Escape') setTyped(value)
        }}
      />
      {offers.length > 0 && (
        <datalist id={list}>
          {offers.map((offer) => (
            <option key={offer} value={offer} />
          ))}
        </datalist>
      )}
    </label>
  )
}

/** Names or values with commas between; null for none. */
export function listOf(text: string): string[] | null {
  return text.trim() === '' ? null : text.split(',').map((part) => part.trim())
}
