import {
  type ColumnView,
  counted,
  isSameName,
  type Operation,
  printName,
  splitNames,
  type TableSource,
  type TableView,
  VALUE_TYPES,
  type WorkbookView,
} from 'mellow-abacus'
import { printDateTime } from 'mellow-abacus/storage'
import { change, lookAt } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { fileSource, readingText, wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { UsageFault } from '../../shell/index.js'

/** What `mellow describe` is told. */
export interface DescribeArguments extends ChangeArguments {
  readonly type?: string
  readonly unit?: string
  readonly symbol?: string
  readonly display?: string
  readonly decimals?: string
  readonly note?: string
  readonly heading?: string
  readonly tag: readonly string[]
  readonly choices?: string
  readonly fixed?: string
  readonly orderKey?: string
  readonly label?: string
  readonly key?: string
  readonly parent?: string
  readonly zone?: string
  readonly locale?: string
}

const TEXTS = ['unit', 'symbol', 'display', 'heading', 'note'] as const

/** Runs `mellow describe`: sets properties, or shows them when none is given. */
export function runDescribe(book: string, addresses: readonly string[], args: DescribeArguments, io: Io): Promise<number> {
  const ofColumn = columnSet(args)
  const ofTable = tableSet(args)
  const ofBook = bookSet(args)
  const given = [ofColumn, ofTable, ofBook].filter((set) => Object.keys(set).length > 0)
  if (given.length === 0 && args.tag.length === 0)
    return lookAt(book, args, io, ({ book: workbook }) => {
      io.show(addresses.length === 0 ? shownBook(workbook, book) : addresses.map((one) => shown(workbook, one)).join(''))
      return undefined
    })
  if (addresses.length === 0 && (given.length > 1 || given[0] !== ofBook || args.tag.length > 0))
    throw new UsageFault(`say of which column or table: mellow describe ${book} <table.column> …`)
  if (addresses.length > 0 && Object.keys(ofBook).length > 0)
    throw new UsageFault(`--zone and --locale are of the workbook as a whole: mellow describe ${book} --zone …`)
  return change(book, args, io, (workbook) => {
    if (addresses.length === 0) return [{ op: 'set-surroundings', ...ofBook }]
    return addresses.flatMap((address) => describing(workbook, address, args, ofColumn, ofTable, io))
  })
}

function describing(
  workbook: WorkbookView,
  address: string,
  args: DescribeArguments,
  given: Record<string, unknown>,
  ofTable: Record<string, unknown>,
  io: Io,
): Operation[] {
  const ofColumn =
    args.tag.length > 0 && !workbook.tables.includes(address)
      ? { ...given, tags: tagsOf(workbook, address, args.tag, io) }
      : given
  const isTable = workbook.tables.includes(address)
  const wrong = Object.keys(isTable ? ofColumn : ofTable)[0]
  if (wrong !== undefined)
    throw new UsageFault(
      `--${wrong} is for ${isTable ? 'a column, and' : 'a table, and'} ${address} is ${isTable ? 'a table' : 'a column'}.`,
    )
  if (isTable) return [...outlineLink(workbook, address, args), { op: 'change-table', table: address, set: ofTable }]
  const { kind, table, name } = workbook.addressed(address)
  if (kind === 'tally') return [describedTally(workbook, table, name, ofColumn)]
  if (kind !== 'column') throw new UsageFault(`only columns, tallies and tables have properties, and ${address} is a ${kind}.`)
  return [{ op: 'change-column', table, column: name, set: ofColumn }]
}

/** Properties that a tally has. */
const OF_TALLIES: ReadonlySet<string> = new Set(['unit', 'symbol', 'display', 'decimals', 'heading', 'note'])

function describedTally(book: WorkbookView, table: string, name: string, set: Readonly<Record<string, unknown>>): Operation {
  const stray = Object.keys(set).find((property) => !OF_TALLIES.has(property))
  if (stray !== undefined) throw new UsageFault(`--${stray} is for a column, and ${printName(name)} is a tally.`)
  return { op: 'set-tally', table, name, formula: book.table(table).tallyFormula(name) ?? 'blank', ...set }
}

/** The tags of a column afterwards: those given, or with `+x` and `-x` those it has with some more or less. */
function tagsOf(book: WorkbookView, address: string, given: readonly string[], io: Io): string[] | null {
  const { table, name } = book.addressed(address)
  const former = book.table(table).column(name).properties.tags ?? []
  const words = given.map((tag) => tag.replace(/^([+-]?)#/, '$1')).filter((tag) => tag !== '')
  const isRelative = words.some((tag) => /^[+-]/.test(tag))
  if (isRelative && words.some((tag) => !/^[+-]/.test(tag)))
    throw new UsageFault('--tag takes tags to have, or with + and - tags to add and to take away, not both.')
  const isOf = (tags: readonly string[], tag: string): boolean => tags.some((one) => isSameName(one, tag))
  const more = words.filter((tag) => tag.startsWith('+')).map((tag) => tag.slice(1))
  const less = words.filter((tag) => tag.startsWith('-')).map((tag) => tag.slice(1))
  const tags = isRelative ? [...former.filter((tag) => !isOf(less, tag)), ...more.filter((tag) => !isOf(former, tag))] : words
  for (const tag of former.filter((one) => !isOf(tags, one)))
    for (const reader of book.table(table).columns)
      if (reader.name !== name && reader.formula?.toLowerCase().includes(`#${tag.toLowerCase()}`) === true)
        io.err(`${printName(table)}.${printName(reader.name)} no longer takes in ${printName(name)}, which was #${tag}.\n`)
  return tags.length === 0 ? null : tags
}

/** Zone and locale of a workbook. */
function bookSet({ zone, locale }: DescribeArguments): { zone?: string; locale?: string } {
  return { ...(zone !== undefined && { zone }), ...(locale !== undefined && { locale }) }
}

function shownBook(book: WorkbookView, name: string): string {
  const { zone, locale, now, seed } = book.surroundings
  return lines(name, {
    tables: book.tables.length,
    revision: book.revision,
    mode: book.mode,
    zone,
    locale,
    clock: printDateTime(now),
    seed,
  })
}

/** The link from a row to its parent, where there is none yet: it leads to the key of the table, or to its label. */
function outlineLink(book: WorkbookView, name: string, args: DescribeArguments): Operation[] {
  const { parent } = args
  if (parent === undefined || parent === '') return []
  const table = book.table(name)
  const column = table.column(parent).name
  if (table.links.some((link) => table.link(link)?.startsWith(`${printName(column)} -> ${printName(table.name)}.`))) return []
  const key = args.key === undefined ? table.properties.key : splitNames(args.key)
  const label = args.label ?? table.properties.label
  const own = key?.length === 1 ? key[0] : label
  if (own == null)
    throw new UsageFault(
      `say which column names a row, so that parents are found: mellow describe <book> ${printName(name)} --key <column>`,
    )
  return [{ op: 'add-link', table: table.name, columns: [column], to: table.name, keys: [own] }]
}

/** Properties of a column; an empty text takes one away. */
function columnSet(args: DescribeArguments): Record<string, unknown> {
  const set: Record<string, unknown> = {}
  for (const name of TEXTS) if (args[name] !== undefined) set[name] = args[name] === '' ? null : args[name]
  if (args.type !== undefined) {
    if (!VALUE_TYPES.some((one) => one === args.type))
      throw new UsageFault(`there is no type ${args.type}; there are ${VALUE_TYPES.join(', ')}.`)
    set.type = args.type
  }
  if (args.decimals !== undefined) set.decimals = args.decimals === '' ? null : wholeNumber('--decimals', args.decimals, 0)
  if (args.orderKey !== undefined) set.orderKey = args.orderKey === '' ? null : args.orderKey
  if (args.choices !== undefined) set.choices = args.choices === '' ? null : splitNames(args.choices)
  if (args.fixed !== undefined) {
    if (args.fixed !== 'yes' && args.fixed !== 'no')
      throw new UsageFault(`--fixed is yes or no, not ${JSON.stringify(args.fixed)}.`)
    set.fixed = args.fixed === 'yes' ? true : null
  }
  return set
}

function tableSet(args: DescribeArguments): Record<string, unknown> {
  return {
    ...(args.parent !== undefined && { parent: args.parent === '' ? null : args.parent }),
    ...(args.label !== undefined && { label: args.label === '' ? null : args.label }),
    ...(args.key !== undefined && { key: args.key === '' ? null : splitNames(args.key) }),
  }
}

function shown(book: WorkbookView, address: string): string {
  if (book.tables.includes(address)) {
    const table = book.table(address)
    const { label, key, parent, source } = table.properties
    const file = fileSource(table)
    const facts = {
      rows: table.rowCount,
      columns: table.columns.length,
      label,
      key: key?.join(', '),
      parent,
      source: file?.file ?? attachedText(source),
      'read with': file === null ? undefined : readingText(file.options),
    }
    return lines(printName(address), facts)
  }
  const { kind, table, name } = book.addressed(address)
  if (kind === 'tally') {
    const { type, properties } = book.table(table).tallyFacts(name)
    const facts = { type: type ?? 'none yet', formula: book.table(table).tallyFormula(name), ...properties }
    return lines(`tally:${printName(table)}.${printName(name)}`, facts)
  }
  if (kind !== 'column') throw new UsageFault(`only columns, tallies and tables have properties, and ${address} is a ${kind}.`)
  const column = book.table(table).column(name)
  const { tags, choices, stamp, orderKey, hidden, hiddenFrom, fixed, ...others } = column.properties
  return lines(`${printName(table)}.${printName(name)}`, {
    type: column.type ?? 'none yet',
    formula: column.formula,
    unit: column.unit === column.properties.unit ? undefined : unitText(column),
    paused: column.isPaused ? 'yes' : undefined,
    stamp:
      stamp === undefined
        ? undefined
        : `${stamp.content} of ${stamp.on === 'first-fill' ? 'the first fill' : 'each change'} of ${stamp.when.map((id) => workbookName(book.table(table), id) ?? '?').join(', ')}`,
    ...others,
    tags: tags?.map((tag) => `#${tag}`).join(' '),
    choices: choices?.join(', '),
    hidden: hidden === true ? 'yes' : undefined,
    'hidden from': hiddenFrom?.map(printName).join(', '),
    fixed: fixed === true ? 'yes' : undefined,
    'order key': workbookName(book.table(table), orderKey),
  })
}

/** What a table has a sample of. */
function attachedText(source: TableSource<string> | null): string | undefined {
  if (source === null || !('database' in source)) return undefined
  return `${source.relation.join('.')} of ${source.database}, a sample of its ${counted(source.rows, 'row')}`
}

/** The unit of a column where it is not simply the one declared. */
function unitText({ unit, formula }: ColumnView): string | undefined {
  return unit === null || formula === null ? undefined : `${unit}, which its formula gives`
}

function workbookName(table: TableView, id: number | undefined): string | undefined {
  return table.columns.find((column) => column.id === id)?.name
}

function lines(head: string, facts: Readonly<Record<string, unknown>>): string {
  const known = Object.entries(facts).filter(([, value]) => value !== undefined && value !== null && value !== '')
  return `${head}\n${known.map(([name, value]) => `  ${name.padEnd(9)} ${String(value)}\n`).join('')}`
}
