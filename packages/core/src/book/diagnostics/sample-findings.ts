import { counted, type Finding, finding } from '../../findings/index.js'
import type { CheckedFormula } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { Model } from '../model/index.js'

/** What a formula will meet in all rows of a database that the sample it is written on does not show. */
export function sampleFindings(model: Model, { references, watches }: CheckedFormula): Finding[] {
  return references.flatMap((reference, index) => {
    const { table, column } = model.columnOf(reference.column)
    const source = table.role === 'rows' ? table.properties.source : null
    if (source === null || !('database' in source)) return []
    const attached = source.columns.find((one) => one.column === column.id)
    // Told once, where it is read first; of a divisor, where it divides.
    const divides = watches.find((watch) => watch.code === 'division-by-zero' && isAt(reference, watch))
    const isFirst = references.findIndex((one) => one.column === column.id) === index
    if (attached === undefined || !(isFirst || divides !== undefined)) return []
    const cells = table.store.column(column.id)
    if (cells === undefined) return []
    const lacks: readonly [what: string, rows: number, isInSample: boolean][] = [
      ['is 0', divides === undefined ? 0 : attached.zeros, cells.numberStatistics().zeros > 0],
      ['is blank', isFirst ? attached.blanks : 0, cells.blankCount > 0],
      ['has a misfit', isFirst ? attached.misfits : 0, cells.faultCount() > 0],
    ]
    const untold = lacks.filter(([, rows, isInSample]) => rows > 0 && !isInSample)
    if (untold.length === 0) return []
    const isZero = untold[0]?.[0] === 'is 0'
    const values = {
      name: printName(column.name),
      what: untold.map(([what, rows]) => `${what} in ${counted(rows, 'row')}`).join(' and '),
      rows: source.rows.toLocaleString('en'),
      after: isZero ? ' Dividing by it fails there; "per" gives blank instead.' : '',
    }
    const { from, to } = reference
    return [finding('beyond-sample', values, { from, to, fixes: isZero ? (divides?.fixes ?? []) : [] })]
  })
}

/** A part of the text of a formula. */
type Place = { readonly from: number; readonly to: number }

function isAt(one: Place, other: Place): boolean {
  return one.from === other.from && one.to === other.to
}
