import type { Fix } from '../../../findings/index.js'
import { differenceTo, printUnit, type Unit } from '../../../units/index.js'
import { printName } from '../../../values/index.js'
import type { Checked } from '../checked.js'
import type { CheckContext } from '../context.js'
import { converted } from './expect-units.js'

/** Says where the unit that a column declares is not the one that its formula gives. */
export function checkDeclaredUnit(
  context: CheckContext,
  expression: Checked,
  column: string,
  declared: Unit,
  inferred: Unit,
): void {
  const likeness = differenceTo(declared, inferred)
  if (likeness === 'same') return
  const [own, said] = [printUnit(inferred), printUnit(declared)]
  const { table, ownRows } = context.scope
  const fixes: Fix[] = []
  const place = { from: expression.from, to: expression.to }
  const insert = converted(context.text.trim(), said)
  if (likeness === 'scaled') fixes.push({ title: `Convert to ${said}`, edits: [{ from: 0, to: context.text.length, insert }] })
  if (ownRows === undefined && own !== '')
    fixes.push({ title: `Say that it is in ${own}`, operations: [{ op: 'change-column', table, column, set: { unit: own } }] })
  const hint = likeness === 'scaled' ? ' Convert it, or correct the unit.' : ' These are quantities of different kinds.'
  context.report(
    'unit-differs',
    { inferred: own === '' ? 'a plain number' : own, column: printName(column), declared: said, hint },
    place,
    fixes,
  )
}
