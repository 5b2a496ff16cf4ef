/** A cell of the grid by its place: rows from 1, 0 for the headings; columns from 0. */
export interface GridPlace {
  readonly place: number
  readonly column: number
}

/** Where a key leads from a cell; null for a key that moves nothing. */
export function moved(
  at: GridPlace,
  { key, ctrlKey, metaKey }: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey'>,
  { rows, columns, page }: { readonly rows: number; readonly columns: number; readonly page: number },
): GridPlace | null {
  const isFar = ctrlKey || metaKey
  const to = (place: number, column: number): GridPlace => ({
    place: Math.max(0, Math.min(rows, place)),
    column: Math.max(0, Math.min(columns - 1, column)),
  })
  switch (key) {
    case 'ArrowDown':
      return to(isFar ? rows : at.place + 1, at.column)
    case 'ArrowUp':
      return to(isFar ? Math.min(1, rows) : at.place - 1, at.column)
    case 'ArrowRight':
      return to(at.place, isFar ? columns - 1 : at.column + 1)
    case 'ArrowLeft':
      return to(at.place, isFar ? 0 : at.column - 1)
    case 'PageDown':
      return to(Math.max(1, at.place + page), at.column)
    case 'PageUp':
      return to(Math.max(1, at.place - page), at.column)
    case 'Home':
      return to(isFar ? 1 : at.place, 0)
    case 'End':
      return to(isFar ? rows : at.place, columns - 1)
    default:
      return null
  }
}
