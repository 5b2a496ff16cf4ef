/**
 * Hosts: each owns one open workbook, does one thing at a time, and serves any number of sessions at it, in this program, over
 * ports, or in a worker thread of its own.
 *
 * In come edits and requests, out go plain answers and news. Start reading at `book-host.ts`, then `host-session.ts`.
 * @module
 */
export { isOfCells } from './answers/changes.js'
export { type Moved, movedOver, type StepInWords } from './answers/moved.js'
export * from './browser.js'
export { heldFile } from './held-file.js'
export { HostThreads } from './host-threads.js'
export { askHost, type HostAddress, type HostQuestion, MeetingPoint } from './meeting-point.js'
export { Presence, seenVisitor, type Visitor } from './presence.js'
export { ThreadHost, type ThreadHostOptions } from './thread-host.js'
