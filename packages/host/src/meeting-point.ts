import { rmSync } from 'node:fs'
import { createConnection, createServer, type Server, type Socket } from 'node:net'
import { relative } from 'node:path'
import { ROLES, type Role } from 'mellow-abacus'

/** Goes behind the name of a workbook file. */
const ENDING = '-host'
/** Bytes that the name of a socket may have, by what the systems take. */
const MOST_NAME_BYTES = 103
/** Bytes of a question, and of an answer. */
const MOST_BYTES = 4_096
const ANSWER_MS = 5_000

/** What a program of the same user asks the one that has a workbook open. */
export interface HostQuestion {
  /** Who is to be the author of what is done. */
  readonly author: string
  /** What it may do there; everything when left out, since the files are its own. */
  readonly role?: Role
  /** True for one who wants to see the workbook on the page. */
  readonly page?: true
}

/** Where the one that has a workbook open can be asked, and what is to be shown there. */
export interface HostAddress {
  /** The address of the workbook, or of the page. */
  readonly url: string
  /** A token for the workbook; for the page it stands in the address. */
  readonly token?: string
}

/**
 * A socket beside a workbook file, there as long as a server has the file open. Programs of the same user learn from it how the
 * server is asked, so that they change the workbook through it and not beside it.
 */
export class MeetingPoint {
  readonly #server: Server
  readonly #name: string

  private constructor(server: Server, name: string) {
    this.#server = server
    this.#name = name
  }

  /**
   * Opens the socket of a workbook that is open here.
   *
   * @param answer - tells who asks how the workbook is asked; null for what there is not
   * @throws Error where no socket can be made there, such as in a folder with too long a name
   */
  static async open(path: string, answer: (question: HostQuestion) => HostAddress | null): Promise<MeetingPoint> {
    const name = socketOf(path)
    // Only who has the file open comes here: what is there already was left by one that is no more.
    rmSync(name, { force: true })
    const server = createServer((socket) => serve(socket, answer))
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject)
      // The socket is made within the call, so that at no moment anyone else may write to it.
      const before = process.umask(0o177)
      server.listen(name, resolve)
      process.umask(before)
    })
    server.unref()
    return new MeetingPoint(server, name)
  }

  close(): void {
    this.#server.close()
    rmSync(this.#name, { force: true })
  }
}

/**
 * Asks the one that has a workbook open how it is asked.
 *
 * @returns null where nobody has it open who can be asked
 */
export async function askHost(path: string, question: HostQuestion): Promise<HostAddress | null> {
  const socket = createConnection(socketOf(path))
  socket.setTimeout(ANSWER_MS, () => socket.destroy())
  try {
    socket.write(`${JSON.stringify(question)}\n`)
    const line = await lineOf(socket)
    return line === null ? null : (JSON.parse(line) as HostAddress | null)
  } catch {
    // No socket, or one that was left by a program that is no more.
    return null
  } finally {
    socket.destroy()
  }
}

async function serve(socket: Socket, answer: (question: HostQuestion) => HostAddress | null): Promise<void> {
  socket.setTimeout(ANSWER_MS, () => socket.destroy())
  try {
    const line = await lineOf(socket)
    if (line === null) return
    const { author, role, page } = JSON.parse(line) as Partial<Record<keyof HostQuestion, unknown>>
    const known = ROLES.find((one) => one === role)
    if (typeof author !== 'string' || (role !== undefined && known === undefined)) return
    const question = { author, ...(known !== undefined && { role: known }), ...(page === true && { page: true as const }) }
    socket.write(`${JSON.stringify(answer(question))}\n`)
  } catch {
    // Who asks for something else, or goes, gets no answer.
  } finally {
    socket.end()
  }
}

/** The line that comes; null where there is none, or too long a one. */
async function lineOf(socket: Socket): Promise<string | null> {
  let text = ''
  socket.setEncoding('utf8')
  for await (const part of socket.iterator({ destroyOnReturn: false })) {
    text += part as string
    const end = text.indexOf('\n')
    if (end >= 0) return text.slice(0, end)
    if (text.length > MOST_BYTES) return null
  }
  return null
}

/** The name of the socket, from where the program stands if that is shorter. */
function socketOf(path: string): string {
  const [whole, near] = [path + ENDING, relative(process.cwd(), path) + ENDING]
  if (Buffer.byteLength(whole) <= MOST_NAME_BYTES) return whole
  return Buffer.byteLength(near) < Buffer.byteLength(whole) ? near : whole
}
