import { useCallback, useEffect, useState } from 'react'
import { Begin } from './begin/begin'
import { comeIn, forgetServer, invitationOf, keptServer, type ServerHere } from './book/arrival'
import { DeskBook } from './book/desk-book'
import type { Beginning } from './book/of-worker'
import { type BookSource, openHere, openServed } from './book/sources'
import { Desk } from './desk'

interface Opened {
  readonly book: DeskBook
  /** Files of rows that are yet to be taken in. */
  readonly files: readonly File[]
}

/** What the address says is to be opened: `#book=<address>` of a served workbook, `#demo`; nothing for the empty page. */
function ofAddress(hash: string): (() => Promise<BookSource>) | null {
  if (hash === '#demo') return openDemo
  const given = new URLSearchParams(hash.slice(1))
  const address = given.get('book')
  if (address === null) return null
  const url = new URL(address, location.href)
  return url.origin === location.origin ? () => openServed(url.href, given.get('token')) : null
}

const openDemo = (): Promise<BookSource> => openHere({ kind: 'demo' }, 'Thistle & Comb', 'inspections')

const openAt = ({ token }: ServerHere, name: string): Promise<BookSource> =>
  openServed(new URL(`/books/${encodeURIComponent(name)}`, location.href).href, token)

/** The page from its beginning: four ways to begin, then the desk. */
export function App() {
  const [opened, setOpened] = useState<Opened | null>(null)
  const [isOpening, setOpening] = useState(() => location.hash !== '')
  const [fault, setFault] = useState<string | null>(null)
  /** The server that the page has come in to. */
  const [here, setHere] = useState<ServerHere | null>(keptServer)
  const open = useCallback(async (source: () => Promise<BookSource>, files: readonly File[] = []) => {
    setOpening(true)
    setFault(null)
    try {
      setOpened({ book: await DeskBook.open(await source()), files })
    } catch (error) {
      // What the page was handed is good as long as the server runs that handed it.
      if ((error as { readonly code?: string }).code === 'no-token') {
        forgetServer()
        setHere(null)
      }
      setFault((error as Error).message)
    } finally {
      setOpening(false)
    }
  }, [])
  const openFirst = useCallback(
    async (at: ServerHere) => {
      const [only, another] = at.books
      if (only !== undefined && another === undefined) await open(() => openAt(at, only.name))
      else setOpening(false)
    },
    [open],
  )
  useEffect(() => {
    const invitation = invitationOf(location.hash)
    const source = ofAddress(location.hash)
    // A token is for once: it stays neither in the address nor in the history.
    if (location.hash.includes('token=')) history.replaceState(null, '', location.pathname)
    if (invitation !== null)
      comeIn(invitation).then(
        (at) => {
          setHere(at)
          void openFirst(at)
        },
        (error: Error) => {
          setFault(error.message)
          setOpening(false)
        },
      )
    else if (source !== null) void open(source)
    else {
      setOpening(false)
      const kept = keptServer()
      if (kept !== null) void openFirst(kept)
    }
  }, [open, openFirst])
  const openFiles = async (files: readonly File[]): Promise<void> => {
    const [bundle] = files.filter(({ name }) => /\.(?:bundle|zip)$/i.test(name))
    if (bundle === undefined) return open(() => openHere({ kind: 'empty' }, nameOf(files[0])), files)
    const beginning: Beginning = { kind: 'bundle', bytes: new Uint8Array(await bundle.arrayBuffer()) }
    return open(() => openHere(beginning, nameOf(bundle)))
  }
  if (opened !== null)
    return (
      <Desk
        book={opened.book}
        first={opened.files}
        onLeave={() => {
          opened.book.close()
          setOpened(null)
        }}
      />
    )
  return (
    <Begin
      isOpening={isOpening}
      fault={fault}
      here={here}
      calls={{
        newTable: () => void open(() => openHere({ kind: 'empty' }, 'workbook')),
        openFiles: (files) => void openFiles(files),
        demo: () => void open(openDemo),
        openHere: (at, name) => {
          // A token that was typed is kept in memory, for the next workbook of the server.
          setHere(at)
          void open(() => openAt(at, name))
        },
      }}
    />
  )
}

const nameOf = (file: File | undefined): string => file?.name.replace(/\.[^.]+$/, '') ?? 'workbook'
