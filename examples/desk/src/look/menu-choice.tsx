import { MenuItem } from '@ariakit/react'
import { afterwards } from './afterwards'

/** Something that can be chosen in a menu, with its key where it has one. */
export function MenuChoice({
  label,
  keys,
  isDanger = false,
  onChoose,
}: {
  label: string
  keys?: string
  /** True where it takes something away. */
  isDanger?: boolean
  onChoose: () => void
}) {
  return (
    <MenuItem className={`menu-item ${isDanger ? 'danger' : ''}`} onClick={() => afterwards(onChoose)}>
      {label}
      {keys !== undefined && <kbd>{keys}</kbd>}
    </MenuItem>
  )
}
