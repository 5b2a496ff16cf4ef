import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { DEMO_BOOK, type DemoReport } from '@mellow-abacus/demo'
import type { Io, Paint } from '../../shell/index.js'
import { ExitCode } from '../../shell/index.js'
import type { RunCommand } from '../verb.js'

/** Keeps the tables as a workbook, and walks through its months: read, define, watch, edit, look, take back, hand over. */
export async function showWorkbook(folder: string, run: RunCommand, io: Io, paint: Paint): Promise<void> {
  const book = join(folder, 'thistle-and-comb.mellow')
  if (existsSync(book)) {
    io.show(`\n${paint.strong('6. The workbook of an earlier demo is kept as it is')}\n  mellow history ${book}\n`)
    return
  }
  const typeWith = async (err: Io['err'], args: readonly string[]): Promise<void> => {
    io.show(`${paint.quiet('$')} mellow ${args.map(shellWord).join(' ')}\n`)
    const exitCode = await run(args, { ...io, err, showsProgress: false })
    if (exitCode !== ExitCode.done) throw new Error(`the demo did not go on after: mellow ${args.join(' ')}`)
  }
  const type = (...args: readonly string[]): Promise<void> => typeWith(() => undefined, args)
  const { tables, links, values, columns, tallies, units, rules, reports, fit, charts } = DEMO_BOOK
  const title = (text: string): void => void io.show(`\n${paint.strong(text)}\n`)
  title('6. Keep it as a workbook: one file, in which every step is kept')
  for (const { name, label, key } of tables) {
    const options = [...(label === undefined ? [] : ['--label', label]), ...(key === undefined ? [] : ['--key', key])]
    await type('import', book, join(folder, `${name}.csv`), ...options)
  }
  for (const link of links) await type('link', book, link)
  for (const value of values) await type('value', book, value)
  title('7. Define: columns of every table, and tallies, which are kept once; order makes no difference')
  for (const { table, definitions } of columns) await type('define', book, table, ...definitions)
  for (const { table, definition } of tallies) await type('tally', book, table, definition)
  for (const { address, unit } of units) await type('describe', book, address, '--unit', unit)
  title('8. Watch: the own rules, and what the checker sees')
  for (const { table, definition, note } of rules) await type('rule', book, table, definition, '--note', note)
  await type('stamp', book, 'inspections.entered', '--when', 'mites,note')
  await type('describe', book, 'harvests.forage', '--order-key', 'flow_begins')
  await type('describe', book, 'harvests.worth', '--display', 'currency:EUR')
  await type('check', book)
  title('9. Work with it: what follows an edit is said; why a value is what it is; a step back')
  await type('set', book, 'inspections', '3', 'mites=12')
  await type('why', book, 'inspections.act', '3')
  await type(
    'show',
    book,
    'hives',
    '--order',
    'worst desc',
    '--columns',
    'tag,site,queen_year,honey,worst',
    '--limit',
    '3',
    '--to',
    'table',
  )
  await type(
    'show',
    book,
    'harvests',
    '--where',
    "hive.site = 'LM'",
    '--order',
    'forage',
    '--columns',
    'hive,forage,honey_kg,worth,part',
    '--limit',
    '4',
    '--to',
    'table',
  )
  await type('undo', book)
  await type('history', book, '--limit', '3')
  title('10. Sum it up: groups that are kept as reports, and a curve through what was measured')
  for (const report of reports) await type('show', book, report.table, ...groupOptions(report), '--to', 'table')
  await type('report', book)
  const { table, quantities, degree, define, residuals } = fit
  await type(
    'fit',
    book,
    table,
    quantities,
    '--degree',
    String(degree),
    '--define',
    define,
    '--residuals',
    residuals,
    '--to',
    'table',
  )
  title('11. Draw it: charts that are kept, as SVG, PNG, a page or a specification')
  for (const { name, of, options } of charts)
    await typeWith(
      (text) => io.show(text),
      ['chart', book, name, '--of', of, ...options, '--keep', '-o', join(folder, `${name}.svg`)],
    )
  await type('chart', book)
  title('12. Hand it over')
  await typeWith((text) => io.show(text), ['export', book, 'inspections', '-o', join(folder, 'inspections-calculated.csv')])
  await type('export', book, 'harvests', '-o', join(folder, 'harvests.parquet'))
  await type('export', book, '-o', join(folder, 'thistle-and-comb.xlsx'))
  for (const { name } of reports) await type('report', book, name, '-o', join(folder, `${name}.html`))
  for (const { name } of charts) await type('chart', book, name, '-o', join(folder, `${name}.html`))
}

/** The options that make a report. Of one whose groups are two deep the outer ones alone are shown. */
function groupOptions({ name, groups, across, tallies, lines, order, display }: DemoReport): string[] {
  return [
    '--group',
    groups,
    ...(across === undefined ? [] : ['--across', across]),
    ...tallies.flatMap((tally) => ['--tally', tally]),
    ...lines.flatMap((line) => ['--line', line]),
    ...(order === undefined ? [] : ['--order', order]),
    ...(display === undefined ? [] : ['--display', display]),
    ...(groups.includes(',') ? ['--fold', '1'] : []),
    '--keep',
    name,
  ]
}

/** A word as it is typed in a shell. */
export function shellWord(word: string): string {
  if (/^[\w./,=-]+$/.test(word)) return word
  return word.includes("'") ? `"${word}"` : `'${word}'`
}
