import { SessionFault } from '../session-fault.js'
import { BOOK_TYPE } from '../wire/media-types.js'
import { type ConnectOptions, Requests } from './requests.js'

/**
 * The file of a workbook at a server, as it was last kept: a whole one, whoever edits meanwhile.
 *
 * @param url - of the workbook, such as `https://honey.example/books/takings`
 * @throws SessionFault where the one who asks does not own it, or there is none
 */
export function bookFileAt(url: string, options: ConnectOptions = {}): Promise<ReadableStream<Uint8Array>> {
  return new Requests(url, options).stream('/file', {})
}

/**
 * Puts a workbook file in at a server, where there is none of its name yet.
 *
 * @param url - of the workbook that it becomes
 * @param bytes - of the file
 * @throws SessionFault for bytes that are no workbook, a name that is none or taken, and for one who may not make workbooks
 */
export async function putBookFile(url: string, bytes: Uint8Array, options: ConnectOptions = {}): Promise<void> {
  const { pathname } = new URL(url)
  const [, folder, name] = /^(.*\/)([^/]+)\/?$/.exec(pathname) ?? []
  if (folder === undefined || name === undefined)
    throw new SessionFault({ code: 'not-found', message: `${url} names no workbook.` })
  const answer = await new Requests(new URL(folder, url).href, options).stream('', {
    method: 'POST',
    query: { name: decodeURIComponent(name) },
    type: BOOK_TYPE,
    body: bytes,
  })
  await answer.cancel()
}
