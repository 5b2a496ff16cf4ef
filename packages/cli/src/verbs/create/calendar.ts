import { type Operation, printName } from 'mellow-abacus'
import { parseDateText, printDate } from 'mellow-abacus/storage'
import { change } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { loadFile } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { UsageFault } from '../../shell/index.js'

/** What makes a table of days. */
export interface CalendarArguments {
  readonly calendar?: string
  readonly weekend?: string
  readonly holidays?: string
}

/** Most days of a calendar: a thousand years. */
const MOST_DAYS = 366_000
const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']

/** Runs `mellow table … --calendar`: a row a day, whether it is a working day, and the name of its holiday. */
export async function runCalendar(
  book: string,
  table: string,
  columns: readonly string[],
  args: ChangeArguments & CalendarArguments,
  io: Io,
): Promise<number> {
  if (columns.length > 0) throw new UsageFault('a calendar has columns of its own: day, working and holiday.')
  const [first, last] = spanOf(args.calendar ?? '')
  const weekend = weekendOf(args.weekend ?? 'sat sun')
  const names = args.holidays === undefined ? new Map<number, string>() : await holidaysIn(args.holidays, io)
  const outside = [...names.keys()].filter((day) => day < first || day > last).length
  const days = Array.from({ length: last - first + 1 }, (_, index) => first + index)
  const isWeekend = (day: number): boolean => weekend.has((((day + 3) % 7) + 7) % 7)
  const exitCode = await change(book, args, io, (): Operation[] => [
    {
      op: 'add-table',
      table,
      columns: [
        { name: 'day', type: 'date' },
        { name: 'working', type: 'boolean' },
        { name: 'holiday', type: 'text' },
      ],
    },
    {
      op: 'insert-rows',
      table,
      block: {
        day: days.map(printDate),
        working: days.map((day) => !isWeekend(day) && !names.has(day)),
        holiday: days.map((day) => names.get(day) ?? null),
      },
    },
    { op: 'change-table', table, set: { label: 'day', key: ['day'] } },
  ])
  if (args.findings !== 'json') {
    if (outside > 0) io.err(`${outside} of the ${names.size} holidays are outside the calendar and left out.\n`)
    io.err(`Its holidays in a formula: every ${printName(table)}.day where holiday is not blank\n`)
  }
  return exitCode
}

function spanOf(text: string): [number, number] {
  const [from, to] = text.split('..').map((part) => parseDateText(part.trim()))
  if (from === undefined || to === undefined || Number.isNaN(from) || Number.isNaN(to) || text.split('..').length !== 2)
    throw new UsageFault(`--calendar takes two days, such as 2026-01-01..2026-12-31, not ${JSON.stringify(text)}.`)
  if (to < from) throw new UsageFault(`the calendar ends ${printDate(to)}, before it begins ${printDate(from)}.`)
  if (to - from >= MOST_DAYS) throw new UsageFault(`a calendar has at most ${MOST_DAYS.toLocaleString('en')} days.`)
  return [from, to]
}

function weekendOf(text: string): ReadonlySet<number> {
  const words =
    text.trim() === ''
      ? []
      : text
          .trim()
          .toLowerCase()
          .split(/[\s,]+/)
  const bad = words.find((word) => !WEEKDAYS.includes(word))
  if (bad !== undefined) throw new UsageFault(`--weekend takes days among ${WEEKDAYS.join(' ')}, not ${JSON.stringify(bad)}.`)
  return new Set(words.map((word) => WEEKDAYS.indexOf(word)))
}

/** Days and names of a file: its first column of dates, and its first column of text. */
async function holidaysIn(file: string, io: Io): Promise<Map<number, string>> {
  const { columns, rowCount } = await loadFile(file, { type: [] }, 'UTC', io)
  const days = columns.find(({ column }) => column?.type === 'date')?.column
  if (days == null) throw new UsageFault(`${file} has no column of dates; expected the days, and their names beside them.`)
  const names = columns.find(({ column }) => column?.type === 'text')?.column
  const found = new Map<number, string>()
  for (let row = 0; row < rowCount; row++) {
    const day = days.read(row)
    const name = names?.read(row) ?? null
    if (typeof day === 'number') found.set(day, typeof name === 'string' ? name : 'holiday')
  }
  return found
}
