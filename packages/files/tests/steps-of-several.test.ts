import { copyFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Operation } from 'mellow-abacus'
import { expect, test } from 'vitest'
import { BookFile } from '../src/index.js'

const edit = (row: number, frames: number): Operation => ({
  op: 'set-cells',
  table: 'hives',
  cells: [{ row, column: 'frames', value: frames }],
})

test('steps taken back out of order are the same in a file that was closed and in one that is repeated from its journal', () => {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-steps-'))
  const [path, killed] = [join(folder, 'honey.mellow'), join(folder, 'killed.mellow')]
  const file = BookFile.create(path)
  file.apply([
    { op: 'add-table', table: 'hives', columns: [{ name: 'frames', type: 'integer' }] },
    { op: 'insert-rows', table: 'hives', rows: [{}, {}, {}, {}] },
  ])
  const ada = file.reader({ role: 'edit', author: 'Ada' })
  const bea = file.reader({ role: 'edit', author: 'Bea' })
  ada.apply(edit(1, 1))
  bea.apply(edit(2, 2))
  ada.apply(edit(3, 3))
  bea.apply(edit(4, 4))
  ada.undo()
  ada.undo()
  bea.apply(edit(4, 5))
  // What is done again next is overtaken by then, and so Ada's alone.
  ada.redo()
  bea.undo()
  const frames = [1, 2, null, 4]
  expect(file.book.table('hives').column('frames').values()).toEqual(frames)
  // As a process that is killed leaves it: with nothing but the journal since the file was made.
  for (const part of ['', '-wal']) copyFileSync(path + part, killed + part)
  file.close()
  for (const left of [path, killed]) {
    const again = BookFile.open(left, { writes: true })
    expect([again.book.revision, again.book.table('hives').column('frames').values()]).toEqual([10, frames])
    expect(again.reader({ role: 'edit', author: 'Ada' }).redo()?.revision).toBe(11)
    expect(again.reader({ role: 'edit', author: 'Bea' }).redo()?.revision).toBe(12)
    expect(again.book.table('hives').column('frames').values()).toEqual([1, 2, 3, 5])
    again.close()
  }
  rmSync(folder, { recursive: true, force: true })
})
