/** A workbook of the server that the page came from. */
interface BookHere {
  readonly name: string
  readonly role: string
}

/** The server that the page came from: what is there for the one at the page, and what they show to it. */
export interface ServerHere {
  readonly token: string | null
  readonly books: readonly BookHere[]
}

/** Where the page keeps what it was handed, until its tab is closed. */
const KEPT = 'mellow-desk'

/** Takes an invitation out of the address: it is neither kept there nor in the history. */
export function invitationOf(hash: string): string | null {
  const invitation = new URLSearchParams(hash.slice(1)).get('invitation')
  if (invitation !== null) history.replaceState(null, '', location.pathname)
  return invitation
}

/**
 * Comes in with an invitation, and is in from then on, also after the page was loaded anew.
 *
 * @throws Error where it is good no more
 */
export async function comeIn(invitation: string): Promise<ServerHere> {
  const answer = await fetch('/session', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ invitation }),
  })
  if (!answer.ok) throw new Error(`This address was good once, and is no more. Ask for another one: mellow desk`)
  const here = (await answer.json()) as ServerHere
  sessionStorage.setItem(KEPT, JSON.stringify(here))
  return here
}

/** Where the page is in already. */
export function keptServer(): ServerHere | null {
  const kept = sessionStorage.getItem(KEPT)
  return kept === null ? null : (JSON.parse(kept) as ServerHere)
}

/** True where the page came from a server of workbooks, which says so as it sends it (W3C Server Timing). */
function isFromServer(): boolean {
  const [navigation] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[]
  return navigation?.serverTiming.some(({ name }) => name === 'workbooks') === true
}

/** Forgets what was handed to the page: it is good no more. */
export function forgetServer(): void {
  sessionStorage.removeItem(KEPT)
}

/**
 * Asks the server that the page came from what there is for one who shows this token, or none.
 *
 * @returns `closed` where it takes a token that is good; null where the page came from no such server
 */
export async function askServer(token: string | null): Promise<ServerHere | 'closed' | null> {
  if (!isFromServer()) return null
  const headers = { accept: 'application/json', ...(token !== null && { authorization: `Bearer ${token}` }) }
  const answer = await fetch('/books', { headers }).catch(() => null)
  const isJson = /\bjson\b/.test(answer?.headers.get('content-type') ?? '')
  if (answer === null || !isJson) return null
  if (answer.status === 401) return 'closed'
  return answer.ok ? { token, ...((await answer.json()) as { books: BookHere[] }) } : null
}
