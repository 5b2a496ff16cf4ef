import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DuckDBInstance } from '@duckdb/node-api'
import { manyHarvests } from '@mellow-abacus/demo'
import { beforeAll, describe, expect, test } from 'vitest'
import { folderWith, mellowHere } from './run-mellow.js'

/** Every command of docs/scale-out.md, run in its order: those of a DuckDB file here, those of a server in its own tests. */

const page = readFileSync(fileURLToPath(new URL('../../../docs/scale-out.md', import.meta.url)), 'utf8')
const commands = [...page.matchAll(/```sh\n([\s\S]*?)```/g)].flatMap(([, block = '']) => block.trim().split('\n'))
const here = commands.filter((line) => !line.includes('postgresql://') && !line.includes(' bees '))

/** The words of a command, as a shell takes it apart. */
const words = (line: string): string[] =>
  [...line.matchAll(/'([^']*)'|(\S+)/g)].map(([, quoted, plain = '']) => quoted ?? plain).slice(1)

let folder = ''
beforeAll(async () => {
  folder = folderWith({})
  const instance = await DuckDBInstance.create(join(folder, 'bees.db'))
  const connection = await instance.connect()
  for (const statement of manyHarvests(30_000, 'duckdb')) await connection.run(statement)
  connection.closeSync()
  instance.closeSync()
  expect((await mellowHere(['demo', '.'], { folder })).code).toBe(0)
}, 120_000)

describe('every command of the page does what the page says', () => {
  test('there are commands', () => {
    expect(here.length).toBeGreaterThan(10)
    expect(commands.every((line) => line.startsWith('mellow '))).toBe(true)
  })

  test.each(here)('%s', async (line) => {
    const { code, err } = await mellowHere(words(line), { folder })
    expect([code, code === 0 ? '' : err]).toEqual([0, ''])
  })

  test('what was published is over all rows', async () => {
    const instance = await DuckDBInstance.create(join(folder, 'bees.db'))
    const connection = await instance.connect()
    const query = 'select count(*) as harvests, count(per_comb) as counted from mellow.harvests'
    const [found] = (await connection.runAndReadAll(query)).getRowObjectsJson()
    connection.closeSync()
    instance.closeSync()
    expect(found).toEqual({ harvests: '30000', counted: '29969' })
  })
})
