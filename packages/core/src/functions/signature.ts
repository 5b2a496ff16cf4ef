/** One parameter of a function. */
export interface Parameter {
  readonly name: string
  /** Types accepted; `any` for all, `T` for one type that every `T` of the signature shares. */
  readonly types: readonly string[]
  readonly optional: boolean
  /** True for the last parameter when it takes any number of arguments, at least one. */
  readonly repeats: boolean
}

const parameterText = /^(\.\.\.)?(\w+)(\?)?: ([\w |]+)$/

/** Takes a signature like `(value: number, digits?: number) -> number` apart. */
export function parseSignature(signature: string): { parameters: Parameter[]; result: string } {
  const match = /^\((.*)\) -> (\w+)$/.exec(signature)
  if (match === null) throw new SyntaxError(`not a signature: ${signature}`)
  const list = match[1] as string
  const parameters = (list === '' ? [] : list.split(', ')).map((text) => {
    const part = parameterText.exec(text)
    if (part === null) throw new SyntaxError(`not a parameter: ${text}`)
    return {
      name: part[2] as string,
      types: (part[4] as string).split(' | '),
      optional: part[3] !== undefined,
      repeats: part[1] !== undefined,
    }
  })
  return { parameters, result: match[2] as string }
}

/** How a function is called, for its reader: `round(value, [digits])`, `join(separator, text …)`. */
export function callForm({ name, parameters }: { readonly name: string; readonly parameters: readonly Parameter[] }): string {
  const shown = parameters.map((one) => (one.optional ? `[${one.name}]` : one.repeats ? `${one.name} …` : one.name))
  return `${name}(${shown.join(', ')})`
}
