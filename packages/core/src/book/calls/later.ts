/** What browsers and Node both have, and the language's own library does not name. */
declare function queueMicrotask(task: () => void): void
declare function setTimeout(task: () => void, milliseconds: number): unknown

/** Does something as soon as the program at work is through. What it throws is reported as the platform reports what no one caught. */
export function later(task: () => void): void {
  queueMicrotask(task)
}

/** Waits until the rest of the program has had its turn: timers, input, painting. */
export function turn(): Promise<void> {
  return new Promise((resolve) => {
    setTimeout(resolve, 0)
  })
}
