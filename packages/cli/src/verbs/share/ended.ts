/** Comes when the process is told to end. */
export function ended(): Promise<void> {
  return new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve())
  })
}
