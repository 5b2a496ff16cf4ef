/** What browsers and Node both have, and the language's own library does not name. */
declare function queueMicrotask(task: () => void): void

/** Does something as soon as the program at work is through. What it throws is reported as the platform reports what no one caught. */
export function later(task: () => void): void {
  queueMicrotask(task)
}
