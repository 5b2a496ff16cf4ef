import { displayNumber, printName } from '../../values/index.js'
import type { Fit, FitQuantity } from './fit-types.js'
import { raised } from './fit-units.js'

/** Significant digits of the numbers of an equation, unless all are wanted. */
const SHOWN_DIGITS = 6

/**
 * A curve as an equation: `h = −4.9·t² + 0·t + 1.8`, and where times count from.
 *
 * @param exact - with all digits
 */
export function equationOf({ y, x, coefficients, start }: Fit, exact = false): string {
  const shown = (value: number): string => displayNumber(exact ? value : Number(value.toPrecision(SHOWN_DIGITS)))
  const terms = coefficients.map(({ value, power }, at) => {
    const size = shown(Math.abs(value))
    const term = power === 0 ? size : `${size}·${raised(x.symbol, power)}`
    const isNegative = value < 0
    return at === 0 ? `${isNegative ? '−' : ''}${term}` : ` ${isNegative ? '−' : '+'} ${term}`
  })
  const counted = start === null ? '' : `, ${x.symbol} in days from ${start}`
  return `${y.symbol} = ${terms.join('')}${counted}`
}

/** A tally or column that writes a curve into a table. */
export interface FitDefinition {
  readonly name: string
  readonly formula: string
}

/**
 * A curve as definitions: tallies of its coefficients, which follow the data, and a column made of them; of a given curve the
 * column alone, with its numbers.
 *
 * @param name - what the column is called
 * @param isFree - whether a name means nothing yet in the table
 */
export function fitDefinitions(
  fit: Fit,
  name: string,
  isFree: (name: string) => boolean,
): { readonly tallies: readonly FitDefinition[]; readonly column: FitDefinition } {
  const { x, y, degree, where, start, leftOut, coefficients, isGiven } = fit
  const hasErrors = leftOut.some(({ reason }) => reason === 'error')
  const guarded = ({ formula }: FitQuantity): string => (hasErrors ? `if_error(${formula}, blank)` : formula)
  const condition = where === null ? '' : ` where ${where}`
  const tallies: FitDefinition[] = isGiven
    ? []
    : coefficients.map(({ power }) => {
        const formula = `polynomial(${guarded(y)}, ${guarded(x)}, ${degree}, ${power}${condition})`
        return { name: `${name}_c${power}`, formula }
      })
  if (start !== null) {
    // Times count from the smallest of the rows that have a value.
    const used = `${guarded(y)} is not blank${where === null ? '' : ` and (${where})`}`
    tallies.push({ name: `${name}_start`, formula: `min(${guarded(x)} where ${used})` })
  }
  const isPlain = start === null && /^(\w+|`[^`]+`)$/.test(x.formula.trim())
  const step = ['t', 'x', `${name}_x`].find(isFree) ?? `${name}_x`
  const read = isPlain ? x.formula.trim() : step
  const terms = coefficients.map(({ power, value }, at) => {
    const size = isGiven ? numberText(at === 0 ? value : Math.abs(value)) : printName(`${name}_c${power}`)
    const term = power === 0 ? size : `${size} * ${read}${power === 1 ? '' : ` ^ ${power}`}`
    return at === 0 ? term : ` ${isGiven && value < 0 ? '-' : '+'} ${term}`
  })
  const time = `elapsed(${printName(`${name}_start`)}, ${x.formula}, 'day')`
  const bound = isPlain ? '' : `let ${read} = ${start === null ? x.formula : time} in `
  return { tallies, column: { name, formula: `${bound}${terms.join('')}` } }
}

function numberText(value: number): string {
  const text = String(value)
  return text.includes('e') ? text.replace('e+', 'e') : text
}
