import { counted } from 'mellow-abacus'
import type { Database } from '../databases/index.js'
import { SourceFault } from './describe-relation.js'
import { type RelationFacts, relationText } from './relation.js'
import { fittingValue, type SourceForm } from './source-form.js'

/** What a column holds over all rows. */
export interface ColumnCounts {
  readonly blanks: number
  readonly zeros: number
  readonly misfits: number
  /** Rows that are not as rows mostly are. */
  readonly unusual: number
}

/** A column that is read, by its name in the database. */
export interface ReadColumn {
  readonly of: string
  readonly form: SourceForm
}

/** What relations hold over all their rows: one statement, which reads each row once. */
export async function countRows(
  database: Database,
  relation: RelationFacts,
  columns: readonly ReadColumn[],
): Promise<{ readonly rows: number; readonly columns: ReadonlyMap<string, ColumnCounts> }> {
  const { dialect } = database
  const list = columns.flatMap(({ of, form }, index) => {
    const quoted = `s.${dialect.quote(of)}`
    const isNumber = form.type === 'number' || form.type === 'integer'
    const reading = form.always ?? form.usually
    const isZero = isNumber ? `${fittingValue(reading)} = 0` : null
    const isMisfit = reading.fits === null ? null : `${quoted} is not null and not (${reading.fits})`
    const isUnusual = form.isUsual === null ? null : `not (${form.isUsual})`
    const tests = { blanks: `${quoted} is null`, zeros: isZero, misfits: isMisfit, unusual: isUnusual }
    return Object.entries(tests).flatMap(([name, test]) =>
      test === null ? [] : [`count(*) filter (where ${test}) as ${dialect.quote(`${name}${index}`)}`],
    )
  })
  const [row] = await database.rows(
    `select ${['count(*) as n', ...list].join(', ')} from ${relationText(dialect, relation.path)} as s`,
  )
  const count = (name: string): number => Number(row?.[name] ?? 0)
  return {
    rows: count('n'),
    columns: new Map(
      columns.map(({ of }, index) => [
        of,
        {
          blanks: count(`blanks${index}`),
          zeros: count(`zeros${index}`),
          misfits: count(`misfits${index}`),
          unusual: count(`unusual${index}`),
        },
      ]),
    ),
  }
}

/**
 * Makes sure that a key tells rows apart. Where the database itself does, nothing is asked.
 *
 * @param rows - the rows that are looked at, as they stand after `from` under the name `s`; all of them unless given
 * @throws SourceFault for a key that rows share, or lack
 */
export async function refuseSharedKeys(
  database: Database,
  relation: RelationFacts,
  key: readonly string[],
  rows = `${relationText(database.dialect, relation.path)} as s`,
): Promise<void> {
  const { dialect } = database
  const isFull = key.every((name) => relation.columns.find((one) => one.name === name)?.isFull === true)
  const isUnique = relation.unique.some((list) => list.every((name) => key.includes(name)))
  if (isFull && isUnique) return
  const names = key.map((name) => `s.${dialect.quote(name)}`)
  const from = `from ${rows}`
  const lacks = `select count(*) as n ${from} where ${names.map((name) => `${name} is null`).join(' or ')}`
  const shares = `select coalesce(sum(n), 0) as n from (select count(*) as n ${from} group by ${names.join(', ')} having count(*) > 1) as g`
  const [[lacking], [sharing]] = [isFull ? [] : await database.rows(lacks), isUnique ? [] : await database.rows(shares)]
  const [without, twice] = [Number(lacking?.n ?? 0), Number(sharing?.n ?? 0)]
  const place = `${relation.path.join('.')} has`
  if (without > 0) throw new SourceFault(`${place} ${counted(without, 'row')} without a value of the key ${key.join(', ')}.`)
  if (twice > 0)
    throw new SourceFault(
      `${place} ${counted(twice, 'row')} whose key ${key.join(', ')} another row has too, so that it tells no order.`,
    )
}
