import fc from 'fast-check'
import { type QueryResult, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { ReadFault, readBundle, readTable, writeBundle, writeTable } from '../src/index.js'

/**
 * Bundles and XLSX files with altered bytes, or cut short: each is read as what was written, or refused. A sample; for a long
 * run: RUNS=2000 npx vitest run --project files damaged-zips
 */
const numRuns = Number(process.env.RUNS ?? 60)

function made(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'jars', formula: 'kg * 2' },
      ],
    },
    { op: 'insert-rows', table: 'takes', rows: Array.from({ length: 60 }, (_, row) => ({ hive: `h${row % 7}`, kg: row / 8 })) },
  ])
  return book
}

const damage = fc.oneof(
  fc.record({ edits: fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 6 }), cut: fc.constant(null) }),
  fc.record({ edits: fc.constant([] as [number, number][]), cut: fc.nat() }),
)

function damaged(whole: Uint8Array, { edits, cut }: { edits: [number, number][]; cut: number | null }): Uint8Array {
  const bytes = Uint8Array.from(cut === null ? whole : whole.subarray(0, cut % whole.length))
  for (const [at, byte] of edits) bytes[at % bytes.length] = byte
  return bytes
}

async function orRefused<Read>(read: () => Promise<Read>): Promise<Read | null> {
  try {
    return await read()
  } catch (error) {
    expect(error).toBeInstanceOf(ReadFault)
    return null
  }
}

async function bytesOf(result: QueryResult): Promise<Uint8Array> {
  const parts: Uint8Array[] = []
  await writeTable(result, 'xlsx', (bytes) => void parts.push(Uint8Array.from(bytes)))
  return Buffer.concat(parts)
}

describe('whatever bytes are altered', () => {
  test('a bundle is whole or refused', async () => {
    const whole = await writeBundle(made())
    const expected = JSON.stringify(await readBundle(whole))
    await fc.assert(
      fc.asyncProperty(damage, async (how) => {
        const read = await orRefused(() => readBundle(damaged(whole, how)))
        if (read !== null) expect(JSON.stringify(read)).toBe(expected)
      }),
      { numRuns },
    )
  })

  test('an XLSX file is whole or refused', async () => {
    const whole = await bytesOf(made().query({ table: 'takes' }))
    const cellsOf = async (bytes: Uint8Array): Promise<string> => {
      const { columns } = await readTable([bytes], 'xlsx')
      return JSON.stringify(columns.map(({ name, column }) => [name, column?.toJSON()]))
    }
    const expected = await cellsOf(whole)
    await fc.assert(
      fc.asyncProperty(damage, async (how) => {
        const read = await orRefused(() => cellsOf(damaged(whole, how)))
        if (read !== null) expect(read).toBe(expected)
      }),
      { numRuns },
    )
  }, 60_000)
})
