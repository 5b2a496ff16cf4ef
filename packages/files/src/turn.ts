/** Lets the rest of the program, or of the page, have a turn. A message comes at once, where timers of a page wait 4 ms. */
export function turn(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel()
    port1.addEventListener('message', () => {
      port1.close()
      resolve()
    })
    port1.start()
    port2.postMessage(null)
  })
}
