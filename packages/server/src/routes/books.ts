import { randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { BookFile } from '@mellow-abacus/files'
import { ThreadHost } from '@mellow-abacus/host'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import { hasRole } from 'mellow-abacus'
import { mayMake, roleAt } from '../access/index.js'
import { HttpProblem } from '../http/index.js'
import { type BookStore, isBookName, removeBookFile } from '../store/index.js'
import { type App, type AtBook, answer, atBook, callerOf, type ServerContext } from './context.js'

/** Addresses of the workbooks themselves. */
export function bookRoutes(app: App, context: ServerContext): void {
  const { books, options } = context

  answer(app, 'books', async ({ request }) => {
    const caller = callerOf(request)
    const open = (await books.store.names()).flatMap((name) => {
      const role = roleAt(caller, name)
      return role === undefined ? [] : [{ name, role }]
    })
    return { books: open }
  })

  answer(app, 'makeBook', async (asked) => {
    const { request, reply, query, body } = asked
    if (!mayMake(callerOf(request)))
      throw new HttpProblem({ status: 403, code: 'needs-role', detail: 'Workbooks are made by owners of all of them.' })
    const isFile = request.body !== null && typeof (request.body as Partial<Readable>).pipe === 'function'
    const name = isFile ? query.name : body.name
    if (name === undefined || !isBookName(name))
      throw new HttpProblem({ status: 400, code: 'bad-name', detail: 'A name takes letters, digits, hyphens and underscores.' })
    if (isFile) await takeFile(books.store, name, request.body as unknown as Readable, options.uploadBytes)
    else await makeBook(books.store, name)
    request.isChange = true
    reply.code(201).header('location', `/books/${name}`)
    return atBook(context, { request, params: { book: name } }, (at) => factsOf(at))
  })

  answer(app, 'book', (asked) => atBook(context, asked, (at) => factsOf(at)))

  answer(app, 'removeBook', async (asked) => {
    const { params, reply } = asked
    await atBook(context, asked, async () => undefined, 'own')
    await books.close(params.book)
    await books.store.remove(params.book)
    asked.request.isChange = true
    return reply.code(204).send()
  })

  answer(app, 'file', (asked) =>
    atBook(
      context,
      asked,
      async ({ book }) => {
        const copy = join(tmpdir(), `mellow-${randomUUID()}.mellow`)
        await book.copyTo(copy)
        const bytes = createReadStream(copy)
        bytes.once('close', () => rmSync(copy, { force: true }))
        return asked.reply
          .header('content-disposition', `attachment; filename="${book.name}.mellow"`)
          .type('application/vnd.sqlite3')
          .send(bytes)
      },
      'own',
    ),
  )
}

/** What there is in a workbook. */
async function factsOf({ book, session }: AtBook): Promise<WireAnswer<'book'>> {
  const { revision, tables, values, functions, reports, charts } = await session.facts()
  const { role, groups, author } = session.reader
  return {
    name: book.name,
    revision,
    reader: { role, groups: hasRole(role, 'define') ? [] : [...groups], author },
    tables: tables.map(({ name }) => name),
    values: [...values],
    reports: reports.map(({ name, definition }) => ({ name, definition: { ...definition } })),
    functions: functions.map((one) => ({ ...one, parameters: [...one.parameters] })),
    charts: charts.map(({ name, definition }) => ({ name, definition: { ...definition } })),
  }
}

/** A file on its way into a store. */
const arriving = (folder: string): string => join(folder, `.upload-${randomUUID()}`)

async function makeBook(store: BookStore, name: string): Promise<void> {
  const made = arriving(store.folder)
  try {
    BookFile.create(made).close()
    await takeIn(store, name, made)
  } finally {
    removeBookFile(made)
  }
}

/** Takes a workbook file in: it is there when it is whole and can be opened, or not at all. */
async function takeFile(store: BookStore, name: string, bytes: Readable, most: number): Promise<void> {
  const made = arriving(store.folder)
  try {
    await pipeline(bytes, atMost(most), createWriteStream(made, { mode: 0o600 }))
    const host = await ThreadHost.open(made).catch((error: unknown) => {
      throw new HttpProblem({ status: 422, code: 'not-a-workbook', detail: NO_WORKBOOK }, { cause: error })
    })
    await host.close()
    await takeIn(store, name, made)
  } finally {
    removeBookFile(made)
  }
}

async function takeIn(store: BookStore, name: string, file: string): Promise<void> {
  try {
    await store.takeIn(name, file)
  } catch (error) {
    if ((error as { readonly code?: unknown }).code === 'exists') throw taken()
    throw error
  }
}

const NO_WORKBOOK = 'The file is no workbook, or cannot be read.'

function taken(): HttpProblem {
  return new HttpProblem({ status: 409, code: 'exists', detail: 'There is a workbook of this name already.' })
}

/** Lets so many bytes through, and then refuses. */
function atMost(most: number): Transform {
  let bytes = 0
  return new Transform({
    transform(chunk: Buffer, _, done) {
      bytes += chunk.length
      if (bytes > most) done(Object.assign(new Error('too large'), { statusCode: 413 }))
      else done(null, chunk)
    },
  })
}
