import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { DEMO_SEED, type DemoTable, demoCsv, demoOperations, thistleAndComb } from '@mellow-abacus/demo'
import { type ChangeSet, counted, Refusal, Workbook } from 'mellow-abacus'
import { findingText } from '../../output/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, type Paint, UsageFault } from '../../shell/index.js'
import type { RunCommand } from '../verb.js'
import { shellWord, showWorkbook } from './demo-workbook.js'

/** Runs `mellow demo`: writes the tables, then types commands as a person would and shows what comes back. */
export async function runDemo(folder: string, seed: string | undefined, io: Io, run: RunCommand): Promise<number> {
  const paint = makePaint(io.colours)
  const tables = thistleAndComb(seed === undefined ? DEMO_SEED : wholeNumber('--seed', seed, 0))
  writeTables(folder, tables)
  const sizes = tables.map((table) => `${table.name} ${table.rows.length}`).join(', ')
  io.show(`${paint.strong('Thistle & Comb')}, a made-up honey co-operative, in ${folder}/ (rows: ${sizes})\n`)
  const inspections = join(folder, 'inspections.csv')
  const infestation = 'infestation = 100 * mites per bees_sampled'
  const act = 'act = case when infestation is blank then "sample again" when infestation > 3 then "treat" else "wait" end'

  await step(run, io, paint, '1. Define two columns, the second on the first, and look at the extremes', [
    'calc',
    inspections,
    infestation,
    act,
    '--columns',
    'hive,seen,mites,bees_sampled,infestation,act',
    '--order',
    'infestation desc',
    '--limit',
    '5',
    '--to',
    'table',
  ])
  await step(run, io, paint, '2. Join text, skipping blanks: some lots have no number', [
    'calc',
    join(folder, 'batches.csv'),
    "mark = join('-', site, forage, lot)",
    'wait = days_between(extracted, bottled)',
    '--columns',
    'mark,extracted,bottled,wait',
    '--order',
    'wait',
    '--limit',
    '4',
    '--to',
    'table',
  ])
  await step(run, io, paint, '3. Follow links to other tables, and total by what they lead to', [
    'calc',
    join(folder, 'harvests.csv'),
    'site = hive.yard.name',
    '--with',
    `hives=${join(folder, 'hives.csv')}`,
    '--with',
    `apiaries=${join(folder, 'apiaries.csv')}`,
    '--link',
    'hive -> hives.tag',
    '--link',
    'hives.yard -> apiaries.code',
    '--group',
    'site',
    '--tally',
    'total_kg = sum(honey_kg)',
    '--tally',
    'mean_kg = round(total_kg / count(), 2)',
    '--order',
    'total_kg desc',
    '--limit',
    '3',
    '--to',
    'table',
  ])
  await step(run, io, paint, '4. A mistake is caught where it stands', [
    'calc',
    inspections,
    'load = 100 * mites per bee_sampled',
  ])
  await step(run, io, paint, '   What looks right and is not, is said too', [
    'calc',
    join(folder, 'harvests.csv'),
    'place = rank(honey_kg order by honey_kg desc)',
    '--columns',
    'hive,honey_kg,place',
    '--limit',
    '2',
    '--to',
    'table',
  ])
  showEdit(io, paint, tables, infestation, act)
  await showWorkbook(folder, run, io, paint)
  io.show(
    `\n${paint.strong('Next')}\n  mellow functions 'split a name'      what formulas can do\n  mellow help calc                     all options\n  mellow help                          every verb\n  mellow desk ${shellWord(join(folder, 'thistle-and-comb'))}  the workbook on a page, in the browser\n`,
  )
  return ExitCode.done
}

function writeTables(folder: string, tables: readonly DemoTable[]): void {
  try {
    mkdirSync(folder, { recursive: true })
    for (const table of tables) writeFileSync(join(folder, `${table.name}.csv`), demoCsv(table))
  } catch (error) {
    throw new UsageFault(`cannot write the tables to ${folder}: ${(error as Error).message}.`)
  }
}

/** Shows a command line and runs it for real. */
async function step(run: RunCommand, io: Io, paint: Paint, title: string, args: readonly string[]): Promise<void> {
  io.show(`\n${paint.strong(title)}\n${paint.quiet('$')} mellow ${args.map(shellWord).join(' ')}\n`)
  // In a demonstration findings belong between the results, so they go the same way.
  await run(args, { ...io, err: (text) => io.show(text), showsProgress: false })
}

function showEdit(io: Io, paint: Paint, tables: readonly DemoTable[], ...definitions: string[]): void {
  const book = new Workbook()
  book.apply(demoOperations(tables))
  book.apply(
    definitions.map((definition) => {
      const [name, ...formula] = definition.split(' = ') as [string, ...string[]]
      return { op: 'add-column', table: 'inspections', column: { name, formula: formula.join(' = ') } }
    }),
  )
  const table = book.table('inspections')
  const row =
    table.rowIds().find((id) => table.column('bees_sampled').value(id) === 0 && table.column('mites').value(id) === 0) ?? 1
  const shown = (): string =>
    table.columns
      .filter((column) => column.formula !== null)
      .map((column) => `${column.name} ${column.value(row) ?? 'blank'}`)
      .join(', ')
  io.show(`\n${paint.strong('5. Edit a source cell (library): only what depends on it is calculated')}\n`)
  io.show(
    `row ${row}: mites ${table.column('mites').value(row)}, bees_sampled ${table.column('bees_sampled').value(row)}, ${shown()}\n`,
  )
  const cells = [
    { row, column: 'mites', value: 12 },
    { row, column: 'bees_sampled', value: 300 },
  ]
  io.show(
    `${paint.quiet('>')} book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: ${row}, column: 'mites', value: 12 }, { row: ${row}, column: 'bees_sampled', value: 300 }] })\n`,
  )
  const change = book.apply({ op: 'set-cells', table: 'inspections', cells })
  io.show(`recalculated: ${followed(change)}\nrow ${row}: mites 12, bees_sampled 300, ${shown()}\n`)
  io.show(
    `${paint.quiet('>')} book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: ${row}, column: 'infestation', value: 0 }] })\n`,
  )
  try {
    book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row, column: 'infestation', value: 0 }] })
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    for (const finding of error.findings) io.show(findingText(finding, 'inspections.infestation', undefined, paint))
  }
}

function followed(change: ChangeSet): string {
  return change.recalculated.map(({ column, rows }) => `${column} ${counted(rows, 'cell')}`).join(', ')
}
