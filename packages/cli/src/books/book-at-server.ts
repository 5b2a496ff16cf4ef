import { createWriteStream, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { ReadableStream as NodeReadableStream } from 'node:stream/web'
import { BookFile } from '@mellow-abacus/files'
import {
  type AppliedChange,
  type BookSession,
  bookFileAt,
  type ConnectOptions,
  connect,
  type EditOptions,
  type MetCell,
  putBookFile,
  SessionFault,
} from '@mellow-abacus/session'
import {
  type BookReader,
  type ChangeSet,
  type Finding,
  type Operation,
  printName,
  Refusal,
  type WorkbookView,
} from 'mellow-abacus'
import { CommandRefusal } from '../shell/index.js'
import type { BookAtHand, Followed } from './book-at-hand.js'
import { shownText } from './preview-text.js'

/** What a token for a server is taken from: a command line can be read by everyone on the machine. */
const TOKEN = 'MELLOW_TOKEN'

/** True for the address of a workbook at a server. */
export function isUrl(name: string): boolean {
  return /^https?:\/\//i.test(name)
}

/** True where there is a workbook of an address that is open to the one who asks. @throws CommandRefusal */
export async function isAtServer(url: string): Promise<boolean> {
  try {
    await (await connect(url, asking())).close()
    return true
  } catch (error) {
    if (error instanceof SessionFault && error.code === 'not-found') return false
    throw told(url, error)
  }
}

/**
 * Makes a workbook in a file of its own, to be put in at a server.
 *
 * @param make - makes the file, and then calls what puts it in
 * @throws CommandRefusal where the server does not take it, and all that making it throws
 */
export async function makeAtServer<Made>(
  url: string,
  make: (path: string, put: (file: BookFile) => Promise<void>) => Promise<Made>,
): Promise<Made> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-'))
  try {
    return await make(join(folder, 'new.mellow'), async (file) => {
      const whole = join(folder, 'whole.mellow')
      file.copyTo(whole)
      await asked(url, putBookFile(url, readFileSync(whole), asking()))
    })
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/**
 * A workbook at a server. A copy of it is looked at here, so that every verb has all of it; a step is done at the server, and then
 * on the copy, to be told of as it would be of a file.
 */
export class BookAtServer implements BookAtHand {
  readonly #url: string
  readonly #folder: string
  readonly #copy: BookFile
  readonly #session: BookSession
  /** The one who asks, at the copy. */
  readonly #reader: BookReader

  private constructor(url: string, folder: string, session: BookSession) {
    this.#url = url
    this.#folder = folder
    this.#session = session
    this.#copy = BookFile.open(join(folder, 'copy.mellow'), { writes: true })
    const { role, groups, author } = session.reader
    this.#reader = this.#copy.reader({ role, groups, ...(author !== null && { author }) })
  }

  /**
   * Fetches a copy of a workbook.
   *
   * @param shown - what is shown to the server; the token of the environment when left out
   * @throws CommandRefusal where it cannot be had
   */
  static async open(url: string, shown: ConnectOptions = asking()): Promise<BookAtServer> {
    const session = await asked(url, connect(url, shown))
    const folder = mkdtempSync(join(tmpdir(), 'mellow-'))
    try {
      const bytes = await asked(url, bookFileAt(url, shown))
      await pipeline(
        Readable.fromWeb(bytes as NodeReadableStream),
        createWriteStream(join(folder, 'copy.mellow'), { mode: 0o600 }),
      )
      return new BookAtServer(url, folder, session)
    } catch (error) {
      rmSync(folder, { recursive: true, force: true })
      throw error
    }
  }

  get book(): WorkbookView {
    return this.#copy.book
  }

  async applyJson(operations: unknown, { strict, expects, at }: Parameters<BookAtHand['applyJson']>[1]): Promise<Followed> {
    const seen = this.book.revision
    const options: EditOptions = {
      seen,
      returns: 'minimal',
      ...(strict !== undefined && { strict }),
      ...(expects !== undefined && { expects }),
    }
    const there = await asked(this.#url, this.#session.apply(operations as Operation[], options))
    const here = onCopy(() => this.#reader.applyJson(operations, at === undefined ? {} : { at }))
    return followed(here, there, (Array.isArray(operations) ? operations : [operations]) as Operation[])
  }

  undo(): Promise<Followed | null> {
    return this.#turn('undo')
  }

  redo(): Promise<Followed | null> {
    return this.#turn('redo')
  }

  async #turn(kind: 'undo' | 'redo'): Promise<Followed | null> {
    const there = await asked(this.#url, this.#session[kind]({ returns: 'minimal' }))
    return there === null
      ? null
      : followed(
          onCopy(() => this.#reader[kind]()),
          there,
          [],
        )
  }

  draft(): ReturnType<BookAtHand['draft']> {
    // The copy goes when it is closed, and all that is tried on it.
    return this.#reader
  }

  journal(): ReturnType<BookAtHand['journal']> {
    return this.#copy.journal()
  }

  storedBytes(): ReturnType<BookAtHand['storedBytes']> {
    return this.#copy.storedBytes()
  }

  async close(): Promise<void> {
    this.#copy.abandon()
    rmSync(this.#folder, { recursive: true, force: true })
    await this.#session.close()
  }
}

/** What a step does on a copy; nothing where that is older than what it is a copy of, and the step cannot be there. */
function onCopy(step: () => ChangeSet | null): ChangeSet | null {
  try {
    return step()
  } catch (error) {
    if (error instanceof Refusal) return null
    throw error
  }
}

/** What a step did: as on the copy where nobody was in between, else as the server says. */
function followed(here: ChangeSet | null, there: AppliedChange, operations: readonly Operation[]): Followed {
  const met = there.met.map(metText)
  if (here?.revision === there.revision) return { ...here, findings: there.findings, met }
  const inserted = there.inserted.map(({ table, ids }) => ({ table, rows: ids.length }))
  return { ...there, inserted, operations: here?.operations ?? operations, met }
}

function metText({ table, row, column, theirs, yours, author, at, revision }: MetCell): string {
  const place = `${printName(table)}.${printName(column)} of row id:${row}`
  const who = `${author ?? 'someone'}${at === null ? '' : ` at ${at}`} (revision ${revision})`
  return `${place}: ${who} had written ${shownText(theirs as never)} meanwhile; yours stands: ${shownText(yours as never)}`
}

function asking(): ConnectOptions {
  const token = process.env[TOKEN]
  return token === undefined || token === '' ? {} : { token: token.trim() }
}

/** A session at a workbook of a server, with the token of the environment. @throws CommandRefusal where it cannot be had */
export function sessionAt(url: string): Promise<BookSession> {
  return asked(url, connect(url, asking()))
}

/** What a server answers. @throws Refusal for what the workbook refuses, CommandRefusal for what stands in the way to it */
async function asked<Answer>(url: string, answer: Promise<Answer>): Promise<Answer> {
  try {
    return await answer
  } catch (error) {
    throw told(url, error)
  }
}

function told(url: string, error: unknown): unknown {
  if (!(error instanceof SessionFault)) return error
  const [first, ...more] = error.findings as readonly Finding[]
  if (first !== undefined) return new Refusal([first, ...more], error.operation)
  const code: string = error.code
  const what =
    code === 'no-token' ? `it takes a token that is good: put one into the environment as ${TOKEN}.` : sentence(error.message)
  return new CommandRefusal(`${url}: ${what}`)
}

const sentence = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)
