import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { applyEdits, caretLines, FINDING_CODES, type FindingCode, finding, nearestName, Refusal, Workbook } from '../src/index.js'
import type { previewOf } from './helpers/one-row.js'

/** Examples speak of columns a, b, big (numbers), deg (in degrees), t (text), d, e (dates), ok (boolean), with a blank a, a zero b and an e before its d; table other has x and b. */
function findingsOf(formula: string): ReturnType<typeof previewOf>['findings'] {
  return sampleBook().previewColumn('sample', { name: 'result', formula }).findings
}

function sampleBook(): Workbook {
  const book = new Workbook({ now: 0 })
  const columns = [
    ['a', 'number'],
    ['b', 'number'],
    ['t', 'text'],
    ['d', 'date'],
    ['e', 'date'],
    ['big', 'number'],
    ['deg', 'number', 'deg'],
    ['ok', 'boolean'],
  ].map(([name, type, unit]) => ({ name, type, ...(unit !== undefined && { unit }) }))
  book.applyJson([
    { op: 'add-table', table: 'sample', columns },
    {
      op: 'add-table',
      table: 'other',
      columns: [
        { name: 'x', type: 'number' },
        { name: 'b', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'sample',
      rows: [
        { a: null, b: 0, d: '2026-03-14', e: '2026-03-01' },
        { a: 4, b: 0, big: 90 },
        { a: 1, b: 2, ok: true },
      ],
    },
  ])
  return book
}

/** The examples of the reference, which come from the comments of the codes. */
const page = readFileSync(new URL('../../../docs/findings.md', import.meta.url), 'utf8')
const examples = page.split(/^### /m).flatMap((section) => {
  const code = section.slice(0, section.indexOf('\n')) as FindingCode
  const example = /^For example: (`` ?|`)(.*?) ?\1$/m.exec(section)?.[2]
  return example === undefined ? [] : [[code, example] as const]
})

test('every code is in the reference, and as many have an example as the comments give', () => {
  expect(page.match(/^### .*$/gm)).toEqual(Object.keys(FINDING_CODES).map((code) => `### ${code}`))
  expect(examples).toHaveLength(page.match(/^For example:/gm)?.length ?? 0)
})

describe('every code with an example', () => {
  test.each(examples)('%s is raised by %s', (code, example) => {
    const found = findingsOf(example).find((one) => one.code === code)
    expect(found?.severity).toBe(FINDING_CODES[code].severity)
    expect(found?.message).not.toMatch(/[{}]|undefined/)
  })

  test.each(examples)('%s: applying a fix of %s removes it', (code, example) => {
    for (const found of findingsOf(example).filter((one) => one.code === code)) {
      for (const fix of found.fixes) {
        const mended = applyEdits(example, fix.edits ?? [])
        expect(
          findingsOf(mended).filter((one) => one.code === code),
          `${fix.title}: ${mended}`,
        ).toEqual([])
      }
    }
  })
})

test.each(examples)('%s: strict refuses %s exactly where check warns of it afterwards', (_, example) => {
  const define = { op: 'add-column', table: 'sample', column: { name: 'result', formula: example } }
  const isRefused = (strict: boolean): boolean => {
    try {
      sampleBook().applyJson(define, { strict })
      return false
    } catch (error) {
      if (error instanceof Refusal) return true
      throw error
    }
  }
  if (isRefused(false)) return expect(isRefused(true)).toBe(true)
  const book = sampleBook()
  const before = new Set(book.check().map((one) => JSON.stringify([one.code, one.column])))
  book.applyJson(define)
  const after = book.check().filter((one) => one.severity !== 'hint' && !before.has(JSON.stringify([one.code, one.column])))
  expect([isRefused(true), after.map(({ code }) => code)]).toEqual([after.length > 0, after.map(({ code }) => code)])
})

test('a parameter that is not given prints as nothing', () => {
  expect(finding('unknown-name', { place: 'Table t', name: 'x' }).message).toBe('Table t has no column or value called x.')
})

test.each([
  ['bee_sampled', 'bees_sampled'],
  ['MITES', 'mites'],
  ['mties', 'mites'],
  ['y', undefined],
  ['altogether', undefined],
])('nearest to %s is %s', (name, expected) => {
  expect(nearestName(name, ['mites', 'bees_sampled', 'x'])).toBe(expected)
})

test.each([
  ['one line', 'a + bb', 4, 6, 'a + bb', '    ^^'],
  ['second line', 'a +\n bb', 5, 7, ' bb', ' ^^'],
  ['at the end', 'a + ', 4, 4, 'a + ', '    ^'],
])('carets under the place: %s', (_, text, from, to, line, carets) => {
  expect(caretLines(text, from, to)).toEqual({ line, carets })
})

test('a long line is cut around the place', () => {
  const { line, carets } = caretLines(`${'a + '.repeat(100)}oops${' + a'.repeat(100)}`, 400, 404, 40)
  expect(line.length).toBeLessThanOrEqual(42)
  expect(line.slice(carets.indexOf('^'), carets.indexOf('^') + 4)).toBe('oops')
})
