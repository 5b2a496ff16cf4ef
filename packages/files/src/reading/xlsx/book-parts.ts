import { ReadFault } from '../read-fault.js'
import { unfoldParts } from '../zip-parts.js'
import { unescapedText, xmlSink } from './xml-events.js'

/** What a number format shows. */
type NumberLook = 'number' | 'date' | 'datetime'

/** What is known of a workbook of sheets before its cells are read. */
export interface BookParts {
  /** Sheets in their order, with the part each is kept in. */
  readonly sheets: readonly { readonly name: string; readonly part: string; readonly isHidden: boolean }[]
  readonly sharedTexts: readonly string[]
  /** By the number of a cell's style. */
  readonly looks: readonly NumberLook[]
  /** True when days are counted from 1904. */
  readonly from1904: boolean
}

/**
 * Reads the parts that all sheets share.
 *
 * @throws ReadFault
 */
export function readBookParts(bytes: Uint8Array): BookParts {
  const names: { name: string; id: string; isHidden: boolean }[] = []
  const targets = new Map<string, string>()
  const texts: string[] = []
  const looks: NumberLook[] = []
  let from1904 = false
  unfoldParts(bytes, 'an XLSX file', (part) => {
    if (part === 'xl/workbook.xml')
      return xmlSink(part, {
        open(name, attributes) {
          if (name === 'workbookPr') from1904 = isTrue(attributes.date1904)
          if (name !== 'sheet') return
          const id = Object.entries(attributes).find(([key]) => key.endsWith(':id'))?.[1] ?? ''
          names.push({ name: attributes.name ?? '', id, isHidden: (attributes.state ?? 'visible') !== 'visible' })
        },
      })
    if (part === 'xl/_rels/workbook.xml.rels')
      return xmlSink(part, {
        open(name, { Id = '', Target = '', TargetMode }) {
          // What lies outside the file is not looked up.
          if (name === 'Relationship' && TargetMode !== 'External') targets.set(Id, Target)
        },
      })
    if (part === 'xl/sharedStrings.xml') return xmlSink(part, sharedTexts(texts))
    return part === 'xl/styles.xml' ? xmlSink(part, cellLooks(looks)) : null
  })
  if (names.length === 0) throw new ReadFault('this is not an XLSX file: it has no sheets.')
  const sheets = names.map(({ name, id, isHidden }) => ({ name, isHidden, part: partOf(targets.get(id) ?? '') }))
  return { sheets, sharedTexts: texts, looks, from1904 }
}

function partOf(target: string): string {
  return target.startsWith('/') ? target.slice(1) : `xl/${target.replace(/^\.\//, '')}`
}

function isTrue(value: string | undefined): boolean {
  return value === '1' || value === 'true'
}

/** Texts kept once for all sheets; a text in several runs is one text, its reading aids left out. */
function sharedTexts(texts: string[]): Parameters<typeof xmlSink>[1] {
  let text = ''
  let isText = false
  let isAid = false
  return {
    open(name) {
      if (name === 'si') text = ''
      if (name === 'rPh') isAid = true
      isText = name === 't' && !isAid
    },
    text(piece) {
      if (isText) text += piece
    },
    close(name) {
      if (name === 'rPh') isAid = false
      isText = false
      if (name === 'si') texts.push(unescapedText(text))
    },
  }
}

/** Number formats that every such file has (ECMA-376 part 1, 18.8.30): those of dates and of times. */
const DATE_FORMATS: ReadonlySet<number> = new Set([14, 15, 16, 17, 27, 28, 29, 30, 31, 36, 50, 51, 52, 53, 54, 55, 56, 57, 58])
const TIME_FORMATS: ReadonlySet<number> = new Set([18, 19, 20, 21, 22, 32, 33, 34, 35, 45, 46, 47])

function cellLooks(looks: NumberLook[]): Parameters<typeof xmlSink>[1] {
  const own = new Map<number, NumberLook>()
  let isCells = false
  return {
    open(name, attributes) {
      if (name === 'numFmt') own.set(Number(attributes.numFmtId), lookOf(attributes.formatCode ?? ''))
      if (name === 'cellXfs') isCells = true
      if (name !== 'xf' || !isCells) return
      const id = Number(attributes.numFmtId ?? 0)
      looks.push(own.get(id) ?? (DATE_FORMATS.has(id) ? 'date' : TIME_FORMATS.has(id) ? 'datetime' : 'number'))
    },
    close(name) {
      if (name === 'cellXfs') isCells = false
    },
  }
}

/** What a format code shows: letters of dates and times that are not part of a text, a colour or a currency. */
function lookOf(code: string): NumberLook {
  const letters = code.replace(/"[^"]*"|\\.|_.|\*.|\[(?!h+\]|m+\]|s+\])[^\]]*\]/gi, '')
  if (/[hs]/i.test(letters.replace(/general/gi, ''))) return 'datetime'
  return /[ymd]/i.test(letters) ? 'date' : 'number'
}
