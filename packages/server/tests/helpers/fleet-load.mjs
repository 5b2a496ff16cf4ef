import { pause } from './fleet.mjs'

/** Letters of workbooks under load. */
const nameOf = (index) => `book-${index}`
const BEGIN = [{ op: 'add-table', table: 'log', columns: [{ name: 'mark', type: 'text' }] }]

/** Makes workbooks with a table to write marks into. */
export async function makeBooks(fleet, count) {
  const names = Array.from({ length: count }, (_, index) => nameOf(index))
  const left = [...names]
  const work = async () => {
    for (let name = left.pop(); name !== undefined; name = left.pop()) {
      await fleet.ask('/books', { body: { name } })
      await fleet.ask(`/books/${name}/operations`, { body: BEGIN, key: `begin-${name}` })
    }
  }
  await Promise.all(Array.from({ length: 4 }, work))
  return names
}

/**
 * People who write marks into workbooks and read them, until they are told to end; what they were answered is kept.
 */
export class Load {
  /** Marks of edits that were acknowledged, by workbook. */
  acknowledged = new Map()
  /** Marks of edits without a key that nobody answered, or who did could not: they may be there once, or not. */
  unknown = new Map()
  edits = 0
  reads = 0
  #isOver = false
  #running

  constructor(fleet, names, people) {
    this.fleet = fleet
    this.names = names
    this.#running = Array.from({ length: people }, (_, who) => this.#go(who))
  }

  async #go(who) {
    for (let count = 0; !this.#isOver; count++) {
      const name = this.names[Math.floor(Math.random() * this.names.length)]
      if (count % 4 === 3) await this.#read(name)
      else await this.edit(name, `${who}-${count}`, count % 4 !== 2)
      await pause(20)
    }
  }

  /** Writes a mark, again and again under one key until it is answered, or once without one. */
  async edit(name, mark, isKeyed = true) {
    const body = { op: 'insert-rows', table: 'log', rows: [{ mark }] }
    const path = `/books/${name}/operations`
    const answer = isKeyed ? await this.fleet.ask(path, { body, key: `mark-${mark}` }) : await this.fleet.once(path, { body })
    this.edits++
    if (answer?.status === 200) note(this.acknowledged, name, mark)
    else if (isKeyed) throw new Error(`${name} ${mark}: ${answer.text}`)
    else note(this.unknown, name, mark)
  }

  async #read(name) {
    await this.fleet.ask(`/books/${name}/tables/log/rows?limit=5`)
    this.reads++
  }

  async end() {
    this.#isOver = true
    await Promise.all(this.#running)
  }

  /** What of the marks is not as it was answered. */
  async faults() {
    const faults = { lost: [], doubled: [], unexpected: [] }
    for (const name of this.names) {
      const { json } = await this.fleet.ask(`/books/${name}/tables/log/rows?limit=10000`)
      const marks = json.rows.map(({ cells }) => cells.mark)
      const seen = new Set(marks)
      const acknowledged = this.acknowledged.get(name) ?? new Set()
      const unknown = this.unknown.get(name) ?? new Set()
      for (const mark of acknowledged) if (!seen.has(mark)) faults.lost.push(`${name} ${mark}`)
      if (seen.size < marks.length) faults.doubled.push(...marks.filter((mark, at) => marks.indexOf(mark) !== at))
      for (const mark of seen) if (!acknowledged.has(mark) && !unknown.has(mark)) faults.unexpected.push(`${name} ${mark}`)
    }
    return faults
  }
}

function note(marks, name, mark) {
  const set = marks.get(name) ?? new Set()
  marks.set(name, set.add(mark))
}

/** Someone who follows a workbook, comes again whenever the feed ends, and looks again where they are told to begin anew. */
export class Follower {
  /** The newest revision that they know of. */
  revision = 0
  changes = 0
  resets = 0
  /** Revisions that they were not told of, although nothing told them to look again. */
  gaps = []
  #isOver = false
  #running

  constructor(fleet, name) {
    this.fleet = fleet
    this.name = name
    this.#running = this.#go()
  }

  async #go() {
    this.revision = (await this.fleet.ask(`/books/${this.name}`)).json.revision
    while (!this.#isOver) {
      await this.#follow().catch(() => undefined)
      await pause(50)
    }
  }

  async #follow() {
    this.abort = new AbortController()
    const response = await fetch(`${this.fleet.url}/books/${this.name}/changes`, {
      headers: { authorization: `Bearer ${this.fleet.token}`, 'last-event-id': String(this.revision) },
      signal: this.abort.signal,
    })
    if (!response.ok) return
    let text = ''
    for await (const part of response.body) {
      text += Buffer.from(part).toString()
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        this.#take(text.slice(0, end))
        text = text.slice(end + 2)
      }
    }
  }

  #take(event) {
    const data = /^data: ?(.*)$/m.exec(event)?.[1]
    if (data === undefined) return
    const { revision } = JSON.parse(data)
    if (/^event: ?reset$/m.test(event)) {
      this.resets++
      this.revision = revision
    } else if (/^event: ?change$/m.test(event) && /^id:/m.test(event)) {
      if (revision !== this.revision + 1) this.gaps.push(`${this.name}: ${revision} after ${this.revision}`)
      this.revision = revision
      this.changes++
    }
  }

  async end() {
    this.#isOver = true
    this.abort?.abort()
    await this.#running
  }
}

/**
 * Kills one server after the other, and starts each again a second later; someone goes on editing workbooks that it had meanwhile.
 *
 * @returns milliseconds from each kill until an edit of such a workbook was acknowledged
 */
export async function killInTurn(fleet, load, { seconds, everyMs = 5_000 }) {
  const takeOvers = []
  const until = performance.now() + seconds * 1_000
  for (let turn = 0; performance.now() < until; turn++) {
    const began = performance.now()
    const victim = turn % fleet.ports.length
    const books = (await fleet.booksOf(victim)).slice(0, 3)
    await fleet.kill(victim)
    const killed = performance.now()
    const edits = books.map(async (name, at) => {
      await load.edit(name, `after-${turn}-${at}`)
      takeOvers.push(performance.now() - killed)
    })
    await pause(1_000)
    await fleet.start(victim)
    await Promise.all(edits)
    await pause(Math.max(0, everyMs - (performance.now() - began)))
  }
  return takeOvers
}
