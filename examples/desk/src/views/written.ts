/** Something with a name and what gives it, as it is written: `name = formula`. */
export interface Named {
  readonly name: string
  readonly formula: string
}

/** A text as a name and a formula; one without a name is called by its own text. */
export function namedOf(text: string): Named {
  const found = /^\s*(?:`((?:[^`]|``)+)`|([\p{L}_][\p{L}\p{N}_]*))\s*=\s*([^=\s][\s\S]*)$/u.exec(text)
  const [, quoted, plain, formula] = found ?? []
  const own = text.trim()
  return found === null
    ? { name: own, formula: own }
    : { name: quoted?.replaceAll('``', '`') ?? plain ?? own, formula: (formula ?? own).trim() }
}

/** The lines of a text that say something, each as a name and a formula. */
export function namedLines(text: string): Named[] {
  return text.split('\n').flatMap((line) => (line.trim() === '' ? [] : [namedOf(line)]))
}

/** Keys with commas between them; commas inside of parentheses and quotes are of a key. */
export function namedKeys(text: string): Named[] {
  const parts: string[] = ['']
  let depth = 0
  let quote = ''
  for (const sign of text) {
    if (quote !== '') quote = sign === quote ? '' : quote
    else if (sign === "'" || sign === '"' || sign === '`') quote = sign
    else if (sign === '(') depth++
    else if (sign === ')') depth--
    if (sign === ',' && depth === 0 && quote === '') parts.push('')
    else parts[parts.length - 1] += sign
  }
  return parts.flatMap((part) => (part.trim() === '' ? [] : [namedOf(part)]))
}

/** The same the other way round. */
export function writtenNamed({ name, formula }: Named): string {
  return name === formula
    ? formula
    : `${/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `\`${name.replaceAll('`', '``')}\``} = ${formula}`
}
