import { type ComponentType, createElement, type FunctionComponent, lazy } from 'react'

/** A part of the page that comes when it is first shown. Where it did not come, it is asked for again the next time. */
export function lazily<Props extends object>(load: () => Promise<ComponentType<Props>>): FunctionComponent<Props> {
  const coming = (): ReturnType<typeof lazy<ComponentType<Props>>> =>
    lazy(async () => {
      try {
        return { default: await load() }
      } catch (error) {
        Part = coming()
        throw error
      }
    })
  let Part = coming()
  return function Coming(props: Props) {
    return createElement(Part as ComponentType<Props>, props)
  }
}
