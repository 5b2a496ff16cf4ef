/** Does something when a menu or dialog has gone that it was chosen from: until then that keeps the focus to itself. */
export function afterwards(act: () => void): void {
  setTimeout(act)
}
