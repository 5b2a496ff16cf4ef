import type { Fix } from '../../../findings/index.js'
import { conversionBetween, likenessOf, parseUnit, printUnit, type Unit } from '../../../units/index.js'
import type { CheckContext } from '../context.js'

/** A part of a formula whose unit is known. */
export interface Measured {
  readonly node: { readonly from: number; readonly to: number }
  readonly unit: Unit
}

/** True when two parts that are added or compared go together; otherwise says so, with what converts one to the other. */
export function expectAlike(context: CheckContext, left: Measured | null, right: Measured | null): boolean {
  if (left === null || right === null) return true
  const likeness = likenessOf(left.unit, right.unit)
  if (likeness === 'same') return true
  const fixes = likeness === 'scaled' ? [convertFix(context, right, left.unit), convertFix(context, left, right.unit)] : []
  const from = Math.min(left.node.from, right.node.from)
  report(context, left, { name: context.source(right.node), unit: right.unit }, likeness, fixes, {
    from,
    to: Math.max(left.node.to, right.node.to),
  })
  return false
}

/** True when a part is in the unit that its place takes; otherwise says so, with what converts it. */
export function expectUnit(context: CheckContext, part: Measured, wanted: string, place: string): boolean {
  const unit = parseUnit(wanted) as Unit
  const likeness = likenessOf(part.unit, unit)
  if (likeness === 'same') return true
  report(
    context,
    part,
    { name: place, unit },
    likeness,
    likeness === 'scaled' ? [convertFix(context, part, unit)] : [],
    part.node,
  )
  return false
}

function report(
  context: CheckContext,
  left: Measured,
  right: { readonly name: string; readonly unit: Unit },
  likeness: 'scaled' | 'unlike',
  fixes: readonly Fix[],
  place: { from: number; to: number },
): void {
  const canConvert = conversionBetween(left.unit, right.unit) !== null
  const reason =
    likeness === 'unlike' || !canConvert ? 'quantities of these kinds do not go together.' : 'one of them has to be converted.'
  const parameters = {
    left: shortened(context.source(left.node)),
    leftUnit: printUnit(left.unit),
    right: shortened(right.name),
    rightUnit: printUnit(right.unit),
    reason,
  }
  context.report('unlike-units', parameters, place, fixes)
}

/** Writes a conversion around a part; of degrees and radians by the functions that bear their names. */
function convertFix(context: CheckContext, { node }: Measured, unit: Unit): Fix {
  const insert = converted(context.source(node), printUnit(unit))
  return { title: `Convert: ${shortened(insert)}`, edits: [{ from: node.from, to: node.to, insert }] }
}

/** A formula with its conversion around it. */
export function converted(source: string, unit: string): string {
  if (unit === 'rad') return `radians(${source})`
  return `convert(${source}, '${unit.replaceAll("'", "''")}')`
}

/** Longest text of a formula inside a message. */
const MOST_QUOTED = 60

function shortened(text: string): string {
  return text.length > MOST_QUOTED ? `${text.slice(0, MOST_QUOTED)}…` : text
}
