import { Component, type ReactNode } from 'react'
import { askAgain } from './lazily'

/** What a part of the page gives way to when it fails. */
export interface Failed {
  readonly error: Error
  /** Shows the part again. */
  again(): void
}

/** Keeps a failure within a part of the page: in its place is said what happened, with ways on. */
export class Boundary extends Component<
  { readonly instead: (failed: Failed) => ReactNode; readonly children: ReactNode },
  { readonly error: Error | null }
> {
  override state: { readonly error: Error | null } = { error: null }

  static getDerivedStateFromError(error: unknown): { error: Error } {
    return { error: error instanceof Error ? error : new Error(String(error)) }
  }

  override render(): ReactNode {
    const { error } = this.state
    if (error === null) return this.props.children
    return this.props.instead({
      error,
      again: () => {
        askAgain()
        this.setState({ error: null })
      },
    })
  }
}
