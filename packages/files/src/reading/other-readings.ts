import { compileDatePattern } from 'mellow-abacus/storage'
import { type NumberMarks, numberReader, patternOfMarks } from './number-marks.js'

/** A way to read the texts of a column as something else than texts. */
export interface OtherReading {
  /** What they are then, for a message: `numbers with a decimal comma`. */
  readonly what: string
  /** The type to be said for the column, as `--type` takes it: `number:0,0`, `date:dd/MM/yyyy`. */
  readonly type: string
  /** The marks that the whole file could be read with instead, for numbers. */
  readonly marks: NumberMarks | null
  /** How many of the cells fit it. */
  readonly fits: number
  /** Another reading that fits as many cells, where the texts alone do not tell. */
  readonly or: string | null
}

const NUMBERS: readonly { readonly what: string; readonly marks: NumberMarks; readonly sign: RegExp }[] = [
  { what: 'numbers with a decimal comma', marks: { decimal: ',', thousands: null }, sign: /,/ },
  { what: 'numbers with commas between thousands', marks: { decimal: '.', thousands: ',' }, sign: /,/ },
  { what: 'numbers with points between thousands and a decimal comma', marks: { decimal: ',', thousands: '.' }, sign: /[.,]/ },
  { what: 'numbers with spaces between thousands', marks: { decimal: '.', thousands: ' ' }, sign: /[ \u00a0\u202f]/ },
  {
    what: 'numbers with spaces between thousands and a decimal comma',
    marks: { decimal: ',', thousands: ' ' },
    sign: /[ \u00a0\u202f,]/,
  },
  { what: 'numbers with apostrophes between thousands', marks: { decimal: '.', thousands: "'" }, sign: /'/ },
]

const DATES = [
  'dd/MM/yyyy',
  'd/M/yyyy',
  'MM/dd/yyyy',
  'M/d/yyyy',
  'dd.MM.yyyy',
  'd.M.yyyy',
  'dd-MM-yyyy',
  'yyyy/MM/dd',
  'yyyy.MM.dd',
  'd MMM yyyy',
  'd MMMM yyyy',
  'MMM d, yyyy',
  'MMMM d, yyyy',
  'dd/MM/yyyy HH:mm',
  'MM/dd/yyyy HH:mm',
  'dd.MM.yyyy HH:mm',
  'yyyy-MM-dd HH:mm',
  'yyyy-MM-dd HH:mm:ss',
]

/** Share of a column's cells that another reading must fit to be worth a word. */
const WORTH_A_WORD = 0.5
/** Different texts that are tried first; of more, only what fits half of these is counted. */
const FIRST_TEXTS = 400

/**
 * Finds how texts that are no numbers and no ISO dates could be read: with other marks, or by a date pattern. Of readings that
 * fit as many cells the first one listed is taken.
 *
 * @param texts - the different texts of the column with how often each occurs
 */
export function otherReading(texts: ReadonlyMap<string, number>, cells: number): OtherReading | null {
  const first = [...texts].slice(0, FIRST_TEXTS)
  const firstCells = first.reduce((sum, [, count]) => sum + count, 0)
  const count = (fits: (text: string) => boolean): number => {
    const tried = first.reduce((sum, [text, often]) => sum + (fits(text) ? often : 0), 0)
    if (tried < WORTH_A_WORD * firstCells || texts.size <= first.length) return tried
    let all = 0
    for (const [text, often] of texts) if (fits(text)) all += often
    return all
  }
  const found: Omit<OtherReading, 'or'>[] = []
  for (const { what, marks, sign } of NUMBERS) {
    if (!first.some(([text]) => sign.test(text))) continue
    const read = numberReader(marks)
    const fits = count((text) => !Number.isNaN(read(text)))
    found.push({ what, type: `number:${patternOfMarks(marks)}`, marks, fits })
  }
  for (const pattern of DATES) {
    const compiled = compileDatePattern(pattern)
    if ('unreadable' in compiled) continue
    const fits = count((text) => !Number.isNaN(compiled.parse(text)))
    const type = compiled.hasTime ? 'datetime' : 'date'
    found.push({ what: `dates written ${pattern}`, type: `${type}:${pattern}`, marks: null, fits })
  }
  const best = found.reduce<(typeof found)[number] | null>((most, one) => (one.fits > (most?.fits ?? 0) ? one : most), null)
  if (best === null || best.fits < WORTH_A_WORD * cells) return null
  const rival = found.find((one) => one !== best && one.fits === best.fits && !isNarrower(best, one))
  return { ...best, or: rival === undefined ? null : `${rival.what} (${rival.type})` }
}

/** True for readings that give the same where both fit: `d/M` reads what `dd/MM` does. */
function isNarrower(one: Pick<OtherReading, 'type' | 'marks'>, other: Pick<OtherReading, 'type' | 'marks'>): boolean {
  const wide = ({ type }: Pick<OtherReading, 'type'>): string => type.replaceAll('dd', 'd').replaceAll('MM', 'M')
  if (one.marks === null || other.marks === null) return wide(one) === wide(other)
  return one.marks.decimal === other.marks.decimal
}
