import { type RefObject, useRef, useState } from 'react'
import { ROW_HEIGHT } from './layout'

/** Pixels that a pointer moves before it drags. */
const SLACK = 5

/** Dragging the rows that are picked to another place. */
export interface RowDrag {
  /** The line above which they would stand, from 0; null while none are dragged. */
  readonly over: number | null
  /** True from when the pointer went down until it goes up. */
  isHeld(): boolean
  /**
   * Begins where a pointer goes down on one of them.
   *
   * @param press - what is done when it goes up where it went down
   */
  begin(y: number, press: () => void): void
}

/**
 * @param body - what holds the rows, one below the other
 * @param count - how many there are
 * @param drop - puts them above the row at a place, from 1; behind the last one for one more than there are
 */
export function useRowDrag(body: RefObject<HTMLElement | null>, count: number, drop: (place: number) => void): RowDrag {
  const [over, setOver] = useState<number | null>(null)
  const held = useRef(false)
  const begin = (y: number, press: () => void): void => {
    held.current = true
    let line: number | null = null
    const onMove = ({ clientY }: PointerEvent): void => {
      if (body.current === null || (line === null && Math.abs(clientY - y) < SLACK)) return
      const { top } = body.current.getBoundingClientRect()
      line = Math.max(0, Math.min(count, Math.round((clientY - top) / ROW_HEIGHT)))
      setOver(line)
    }
    const end = (): void => {
      held.current = false
      window.removeEventListener('pointermove', onMove)
      window.removeEventListener('pointerup', onUp)
      window.removeEventListener('pointercancel', end)
      window.removeEventListener('keydown', onKey, true)
      setOver(null)
    }
    const onUp = (): void => {
      end()
      if (line === null) press()
      else drop(line + 1)
    }
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape') return
      event.stopPropagation()
      end()
    }
    window.addEventListener('pointermove', onMove)
    window.addEventListener('pointerup', onUp)
    window.addEventListener('pointercancel', end)
    window.addEventListener('keydown', onKey, true)
  }
  return { over, isHeld: () => held.current, begin }
}
