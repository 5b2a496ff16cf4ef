import type { DeclaredType, ReadingOptions } from '@mellow-abacus/files'
import { nearestName, type Surroundings, VALUE_TYPES } from 'mellow-abacus'
import { isTimeZone, parseMomentText, zonedWallClock } from 'mellow-abacus/storage'
import type { ReadingArguments, SurroundingArguments } from '../options/index.js'
import { UsageFault } from '../shell/index.js'

/**
 * What the reading options say.
 *
 * @throws UsageFault
 */
export function readingOptions(args: ReadingArguments, zone: string): ReadingOptions {
  const delimiter = args.delimiter === '\\t' ? '\t' : args.delimiter
  if (delimiter !== undefined && (delimiter.length !== 1 || /["\r\n]/.test(delimiter)))
    throw new UsageFault(`--delimiter takes one character, received ${JSON.stringify(args.delimiter)}.`)
  if (args.decimal !== undefined && args.decimal !== '.' && args.decimal !== ',')
    throw new UsageFault(`--decimal takes "." or ",", received ${JSON.stringify(args.decimal)}.`)
  if (args.thousands !== undefined && (!/^[,. ']$/.test(args.thousands) || args.thousands === (args.decimal ?? '.')))
    throw new UsageFault(
      `--thousands takes ",", ".", a space or an apostrophe, and another sign than --decimal; received ${JSON.stringify(args.thousands)}.`,
    )
  const headerRow = args.headerRow === undefined ? undefined : wholeNumber('--header-row', args.headerRow, 1)
  return {
    zone,
    types: new Map(args.type.map(columnType)),
    ...(delimiter !== undefined && { delimiter }),
    ...(args.decimal !== undefined && { decimal: args.decimal }),
    ...(args.thousands !== undefined && { thousands: args.thousands }),
    ...(args.duplicates !== undefined && { duplicates: args.duplicates }),
    ...(args.longRows !== undefined && { longRows: args.longRows }),
    ...(args.quotes !== undefined && { quotes: args.quotes }),
    ...(args.encoding !== undefined && { encoding: args.encoding }),
    ...(headerRow !== undefined && { headerRow }),
    ...(args.sheet !== undefined && { sheet: args.sheet }),
    ...(args.blank !== undefined && { blanks: args.blank.split(',') }),
  }
}

/**
 * `column=type` or `column=type:pattern`. The last `=` before a type is the divider, so names may have one.
 *
 * @throws UsageFault
 */
export function columnType(text: string): [string, DeclaredType] {
  const match = /^(.+)=([a-z]+)(?::(.+))?$/i.exec(text)
  const form = "--type takes 'column=type', such as 'code=text' or 'seen=date:dd/MM/yyyy'"
  if (match === null) throw new UsageFault(`${form}, received ${JSON.stringify(text)}.`)
  const [, column, name, pattern] = match as unknown as [string, string, string, string | undefined]
  const type = VALUE_TYPES.find((one) => one === name.toLowerCase())
  if (type === undefined) {
    const near = nearestName(name, VALUE_TYPES)
    throw new UsageFault(
      `there is no type called ${name}; there are ${VALUE_TYPES.join(', ')}.${near === undefined ? '' : ` Nearest: ${near}.`}`,
    )
  }
  if (pattern !== undefined && (type === 'text' || type === 'boolean'))
    throw new UsageFault(`only dates and numbers have a pattern, so --type ${JSON.stringify(text)} says nothing.`)
  return [column, { type, ...(pattern !== undefined && { pattern }) }]
}

/**
 * A whole number of an option.
 *
 * @throws UsageFault
 */
export function wholeNumber(option: string, text: string, least: number): number {
  const value = Number(text)
  if (!/^\d+$/.test(text) || !Number.isSafeInteger(value) || value < least)
    throw new UsageFault(`${option} takes a whole number from ${least}, received ${JSON.stringify(text)}.`)
  return value
}

/**
 * What the surroundings say.
 *
 * @throws UsageFault
 */
export function surroundings(args: SurroundingArguments): Surroundings {
  const zone = args.zone ?? 'UTC'
  if (!isTimeZone(zone)) throw new UsageFault(`there is no time zone called ${zone}; write one like Europe/Oslo or UTC.`)
  const locale = args.locale ?? 'en'
  if (!isLocale(locale)) throw new UsageFault(`${locale} is not a language tag; write one like en, de or pt-BR.`)
  return { now: clock(args.now, zone), seed: args.seed === undefined ? 1 : wholeNumber('--seed', args.seed, 0), zone, locale }
}

function isLocale(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1
  } catch {
    // The platform says "no such tag" by throwing.
    return false
  }
}

function clock(now: string | undefined, zone: string): number {
  const text = now ?? new Date().toISOString()
  const toWall = zonedWallClock(zone)
  const time = parseMomentText(text, toWall)
  if (Number.isNaN(time))
    throw new UsageFault(`--now takes a date or time in ISO 8601, such as 2026-03-14T09:30:00, received ${JSON.stringify(now)}.`)
  return time
}
