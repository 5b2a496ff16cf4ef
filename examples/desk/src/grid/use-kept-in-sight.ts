import type { Virtualizer } from '@tanstack/react-virtual'
import { type RefObject, useEffect, useRef } from 'react'
import { ROW_HEIGHT } from './layout'

/**
 * Keeps the current line in sight where the grid gets lower, as when other rows are opened below it. One that was scrolled out of
 * sight stays so.
 *
 * @param line - the current one, from 0; null for none
 */
export function useKeptInSight(
  scroller: RefObject<HTMLDivElement | null>,
  down: Virtualizer<HTMLDivElement, Element>,
  line: number | null,
): void {
  const current = useRef(line)
  current.current = line
  useEffect(() => {
    const place = scroller.current
    if (place === null) return
    let height = place.clientHeight
    const watched = new ResizeObserver(() => {
      const before = height
      height = place.clientHeight
      const top = current.current === null ? null : current.current * ROW_HEIGHT
      const wasSeen = top !== null && top >= place.scrollTop && top < place.scrollTop + before
      if (height < before && wasSeen) down.scrollToIndex(current.current as number)
    })
    watched.observe(place)
    return () => watched.disconnect()
  }, [scroller, down])
}
