import type { ColumnView } from 'mellow-abacus'
import { type KeyboardEvent, useState } from 'react'
import type { BookHandle } from '../book/use-book'

/** What can become of a column: another name, out of sight, values without a formula, or gone. */
export function ColumnLife({
  column,
  place,
  handle,
  onRenamed,
}: {
  column: ColumnView
  place: { readonly table: string; readonly column: string }
  handle: BookHandle
  onRenamed: (name: string) => void
}) {
  const [name, setName] = useState<string | null>(null)
  const isHidden = column.properties.hidden === true
  const rename = (): void => {
    if (name === null || name.trim() === '') return
    const to = name.trim()
    if (to === place.column || handle.apply({ op: 'rename-column', ...place, to })) {
      setName(null)
      onRenamed(to)
    }
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Enter') rename()
    if (event.key === 'Escape') setName(null)
  }
  if (name !== null)
    return (
      <div className="column-life">
        <input
          aria-label={`new name of ${place.column}`}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={onKeyDown}
        />
        <button type="button" onClick={rename}>
          give this name
        </button>
        <button type="button" onClick={() => setName(null)}>
          leave it
        </button>
      </div>
    )
  return (
    <div className="column-life">
      <button type="button" onClick={() => setName(place.column)}>
        rename
      </button>
      <button
        type="button"
        onClick={() => handle.apply({ op: 'change-column', ...place, set: { hidden: isHidden ? null : true } })}
      >
        {isHidden ? 'show' : 'hide'}
      </button>
      {column.formula !== null && (
        <button
          type="button"
          title="Keep the values, drop the formula"
          onClick={() => handle.apply({ op: 'detach-column', ...place })}
        >
          detach
        </button>
      )}
      <button type="button" onClick={() => handle.apply({ op: 'remove-column', ...place })}>
        remove {place.column}
      </button>
    </div>
  )
}
