import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { BookFile, BookFileFault } from '@mellow-abacus/files'
import { type BookSession, type SessionEvent, SessionFault } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { BookHost, type HeldBook, heldFile, ThreadHost } from '../src/index.js'
import { tellerOver } from '../src/ports/ports.js'

let folder: string
let path: string

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'host-failures-'))
  path = join(folder, 'honey.mellow')
  const file = BookFile.create(path, { now: '2026-06-30' })
  file.apply([
    { op: 'add-table', table: 'hives', columns: [{ name: 'kg', type: 'number' }] },
    { op: 'insert-rows', table: 'hives', rows: [{ kg: 0 }, { kg: 0 }] },
    { op: 'add-column', table: 'hives', column: { name: 'twice', formula: 'kg * 2' } },
  ])
  file.close()
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const edit = (value: number): Operation => ({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value }] })

async function codeOf(promise: Promise<unknown>): Promise<string> {
  try {
    await promise
    return 'not refused'
  } catch (error) {
    return error instanceof SessionFault ? error.code : String(error)
  }
}

describe('what cannot be kept has not happened', () => {
  /** A held file of which keeping fails as often as is said. */
  function failing(held: HeldBook, state: { failures: number }): HeldBook {
    return {
      ...held,
      view: held.view,
      commit: () => {
        if (state.failures-- > 0) throw new BookFileFault('unwritable', 'no room')
        held.commit()
      },
      reopened: () => failing(held.reopened(), state),
    }
  }

  test('edits that waited together are refused, all look again, and the next ones are done', async () => {
    const state = { failures: 1 }
    const host = new BookHost(failing(heldFile(path), state))
    const ada = host.open({ role: 'edit', author: 'Ada' })
    const bea = host.open({ role: 'edit', author: 'Bea' })
    const heard: SessionEvent[] = []
    bea.on((event) => heard.push(event))
    const window = await bea.watch({ table: 'hives' })
    expect(await Promise.all([codeOf(ada.apply(edit(1))), codeOf(bea.apply(edit(2)))])).toEqual(['lost', 'lost'])
    expect(heard).toEqual([{ kind: 'reset', revision: 1 }])
    expect((await ada.query({ table: 'hives' })).rows[0]?.cells).toEqual({ kg: 0, twice: 0 })
    expect((await ada.apply(edit(3))).revision).toBe(2)
    expect(window.current.rows[0]?.cells).toEqual({ kg: 3, twice: 6 })
    expect(heard.at(-1)).toMatchObject({ kind: 'change', revision: 2 })
    host.close()
  })

  test('one that is refused does not keep the others from being done', async () => {
    const host = new BookHost(heldFile(path))
    const ada = host.open({ role: 'edit', author: 'Ada' })
    const results = await Promise.all([
      codeOf(ada.apply(edit(1))),
      codeOf(ada.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'twice', value: 3 }] })),
      codeOf(ada.apply(edit(2))),
    ])
    expect(results).toEqual(['not refused', 'calculated-cell', 'not refused'])
    host.close()
    const file = BookFile.open(path)
    expect([file.book.revision, file.book.table('hives').column('twice').values()]).toEqual([3, [4, 0]])
    file.close()
  })
})

describe('a thread that dies', () => {
  test('loses nothing that was acknowledged, and the next one goes on from there', async () => {
    let acknowledged = 0
    let sent = 0
    for (let round = 0; round < Number(process.env.KILLS ?? 4); round++) {
      const host = await ThreadHost.open(path)
      const session = await host.open({ role: 'edit', author: 'Ada' })
      const { rows } = await session.query({ table: 'hives' })
      const found = rows[0]?.cells.kg as number
      expect(found).toBeGreaterThanOrEqual(acknowledged)
      expect(found).toBeLessThanOrEqual(sent)
      const writing = (async (): Promise<string> => {
        for (;;) {
          const value = ++sent
          const code = await codeOf(session.apply(edit(value)))
          if (code !== 'not refused') return code
          acknowledged = value
        }
      })()
      await new Promise((resolve) => setTimeout(resolve, 20 + ((round * 37) % 60)))
      await host.kill()
      expect(await writing).toBe('closed')
    }
    expect(acknowledged).toBeGreaterThan(0)
    const file = BookFile.open(path)
    expect(file.book.table('hives').column('kg').value(1)).toBeGreaterThanOrEqual(acknowledged)
    file.close()
  })

  test('ends its sessions, and says so to whoever asks', async () => {
    const host = await ThreadHost.open(path)
    const session: BookSession = await host.open({ role: 'read' })
    await host.close()
    expect(await codeOf(session.facts())).toBe('closed')
    expect(await codeOf(host.open({ role: 'read' }))).toBe('closed')
    await host.close()
  })

  test('what cannot be opened is said as the file says it', async () => {
    await expect(ThreadHost.open(join(folder, 'none.mellow'))).rejects.toThrow('there is no workbook')
    const host = await ThreadHost.open(path)
    await expect(ThreadHost.open(path, { waitMs: 50 })).rejects.toBeInstanceOf(BookFileFault)
    await expect(host.open({ role: 'boss' as 'read' })).rejects.toThrow('the options of the reader')
    await host.close()
  })
})

test('an answer that cannot be handed over is a fault, and those beside it come as they are', async () => {
  const sent: unknown[] = []
  const port = {
    send: (message: unknown) => void sent.push(structuredClone(message)),
    listen: () => undefined,
    close: () => undefined,
  }
  const teller = tellerOver(port)
  teller.say({ call: 1, answer: 'plain' })
  teller.say({ call: 2, answer: () => 'not plain' })
  teller.close()
  expect(sent).toEqual([
    { call: 1, answer: 'plain' },
    { call: 2, fault: expect.objectContaining({ code: 'internal' }) },
  ])
})
