import { type ComponentType, createElement, type FunctionComponent, lazy } from 'react'

/** What has parts asked for again that did not come. */
const missing: Set<() => void> = new Set()

/** A part of the page that comes when it is first shown. One that did not come is asked for again after `askAgain`. */
export function lazily<Props extends object>(load: () => Promise<ComponentType<Props>>): FunctionComponent<Props> {
  const coming = (): ReturnType<typeof lazy<ComponentType<Props>>> =>
    lazy(async () => {
      try {
        return { default: await load() }
      } catch (error) {
        missing.add(() => {
          Part = coming()
        })
        throw error
      }
    })
  let Part = coming()
  return function Coming(props: Props) {
    return createElement(Part as ComponentType<Props>, props)
  }
}

/** Has parts that did not come be asked for again when they are next shown. */
export function askAgain(): void {
  for (const again of missing) again()
  missing.clear()
}
