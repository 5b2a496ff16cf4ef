import { describe, expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

const honey = new HoneyBook()
const { run, all } = honey

/** The revision that the workbook is at. */
async function revision(): Promise<number> {
  return Number(/revision +(\d+)/.exec((await run('describe', 'honey')).out)?.[1])
}

describe('why --between', () => {
  test('tells the steps and the rows that moved a sum, which add up', async () => {
    await all(['set', 'honey', 'takes', '2', 'kg=4'], ['tally', 'honey', 'takes', 'total = sum(kg)'])
    const from = await revision()
    await all(
      ['set', 'honey', 'takes', '1', 'kg=3.5', '--author', 'Ada'],
      ['rows', 'honey', 'takes', 'add', 'hive=C', 'kg=2'],
      ['set', 'honey', 'hives', '1', 'frames=9'],
      ['rows', 'honey', 'takes', 'remove', '2'],
    )
    const to = await revision()
    const { code, out } = await run('why', 'honey', 'tally:takes.total', '--between', String(from), String(to))
    expect(code).toBe(0)
    expect(out).toContain(`tally:takes.total from revision ${from} to ${to}: 12.5 → 11, -1.5\n`)
    expect(out).toMatch(/revision \d+ {2}\S+ {2}Ada {2}takes\.kg of row id:1 set to 3\.5\n {2}12\.5 → 13, \+0\.5\n/)
    expect(out).toContain('  13 → 15, +2\n')
    expect(out).not.toContain('hives.frames')
    expect(out).toContain(
      'rows of takes that account for it, -1.5 in all:\n  row 2  gone     -4\n  row 3  new      +2\n  row 1  changed  +0.5\n',
    )
    expect((await run('why', 'honey', 'tally:takes.total', '--since', String(from))).out).toBe(out)
    const json = JSON.parse(
      (await run('why', 'honey', 'tally:takes.total', '--between', String(from), String(to), '--to', 'json')).out,
    )
    expect(json).toMatchObject({ between: [from, to], before: 12.5, after: 11, change: -1.5, rows: { difference: -1.5 } })
    expect(json.steps.reduce((sum: number, step: { change: number }) => sum + step.change, 0)).toBe(-1.5)
  })

  test('tells the definition that moved a value, and where nothing did', async () => {
    await all(['define', 'honey', 'takes', 'part = 2 * kg'])
    const from = await revision()
    await all(['define', 'honey', 'takes', 'part = 3 * kg'], ['set', 'honey', 'takes', '3', 'kg=1'])
    const to = await revision()
    const { out } = await run('why', 'honey', 'takes.part', '1', '--between', String(from), String(to))
    expect(out).toContain('  6 → 9, +3\n')
    expect(out).not.toContain('that account for it')
    const still = await run('why', 'honey', 'takes.kg', '1', '--between', String(from), String(to))
    expect(still.out).toBe(`Nothing from revision ${from} to ${to} has moved takes.kg; it is 3.\n`)
    const before = await run('why', 'honey', 'takes.part', '1', '--between', '1', String(from))
    expect(before.out).toContain('→ 6\n')
  })

  test.each([
    [['--between', '3'], '--between takes two revisions, the earlier one first: --between 40 46'],
    [['--between', '4', '3'], '--between takes two revisions'],
    [['--between', '1', 'x'], '--between'],
    [['--between', '1', '999'], 'honey is at revision'],
    [['--since', '1', '--between', '1', '2'], 'give --since or --between, not both.'],
    [['--to', 'json'], '--to goes with --since and --between.'],
  ])('refuses %j', async (words, message) => {
    const { code, err } = await run('why', 'honey', 'takes.kg', '1', ...words)
    expect([code, err]).toEqual([2, expect.stringContaining(message)])
  })
})
