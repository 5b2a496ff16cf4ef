/** Something that goes on until it is ended: by calling it, by `using`, or by `dispose` of a group of such. */
export interface Subscription extends Disposable {
  /** Ends it; ending it again does nothing. */
  (): void
}

/** Makes a subscription of what ends it. */
export function subscription(end: () => void): Subscription {
  return Object.assign(end, { [Symbol.dispose]: end })
}
