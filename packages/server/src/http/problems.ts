import { STATUS_CODES } from 'node:http'
import { BookFileFault } from '@mellow-abacus/files'
import { SessionFault } from '@mellow-abacus/session'
import type { WireProblem } from '@mellow-abacus/session/wire'
import type { FastifyError } from 'fastify'
import { TooManyOpen } from '../books/index.js'
import { HeldElsewhere, StoreFault } from '../store/index.js'

/** Media type of problems (RFC 9457). */
export const PROBLEM_TYPE = 'application/problem+json'

/** What a problem says. */
export interface ProblemFacts extends Pick<WireProblem, 'status' | 'code' | 'detail'> {
  readonly findings?: readonly object[]
  readonly operation?: object
  /** Of a row that is another by now: what it is, and what was to be written. */
  readonly row?: { readonly now: object | null; readonly given?: object }
  readonly cost?: number
  readonly headers?: Readonly<Record<string, string>>
}

/** Thrown where a request cannot be answered as it is asked; nothing was changed. */
export class HttpProblem extends Error {
  readonly facts: ProblemFacts

  constructor(facts: ProblemFacts, options?: ErrorOptions) {
    super(facts.detail, options)
    this.name = 'HttpProblem'
    this.facts = facts
  }
}

/** A workbook that there is not, or where the caller may not come in: both are answered alike. */
export function noBook(): HttpProblem {
  return new HttpProblem({ status: 404, code: 'not-found', detail: 'There is no such workbook, or it is not open to you.' })
}

/** Statuses of what sessions refuse; what is not among them is 422: understood, and not possible. */
const STATUS_OF_FAULT: Readonly<Record<string, number>> = {
  'needs-role': 403,
  'fixed-cell': 403,
  'unknown-table': 404,
  'unknown-row': 404,
  'unknown-report': 404,
  'unknown-chart': 404,
  'not-found': 404,
  'unexpected-revision': 409,
  'step-overtaken': 409,
  'view-changed': 409,
  'row-changed': 412,
  'bad-operation': 400,
  closed: 503,
  lost: 503,
  internal: 500,
}

export const BUSY: ProblemFacts = {
  status: 503,
  code: 'busy',
  detail: 'The workbook cannot be had at the moment. Ask again.',
  headers: { 'retry-after': '1' },
}

/** What a fault is told as: never with a path, a stack or anything else from inside. */
export function factsOfFault(fault: unknown): ProblemFacts {
  if (fault instanceof HttpProblem) return fault.facts
  if (fault instanceof SessionFault) return factsOfSession(fault)
  if (fault instanceof TooManyOpen || fault instanceof HeldElsewhere || fault instanceof StoreFault) return BUSY
  if (fault instanceof BookFileFault) return factsOfFile(fault)
  return factsOfServer(fault as Partial<FastifyError>)
}

function factsOfSession({ code, message, findings, operation, cost }: SessionFault): ProblemFacts {
  if (code === 'closed') return BUSY
  const status = STATUS_OF_FAULT[code] ?? 422
  return {
    status,
    code,
    detail: message,
    ...(findings.length > 0 && { findings }),
    ...(operation !== undefined && { operation }),
    ...(cost !== undefined && { cost }),
    ...(status === 503 && { headers: { 'retry-after': '1' } }),
  }
}

function factsOfFile({ code }: BookFileFault): ProblemFacts {
  if (code === 'missing') return noBook().facts
  if (code === 'in-use') return BUSY
  const detail = 'The workbook cannot be read. An operator of the server finds the reason in its log.'
  return { status: 503, code: code === 'damaged' ? 'damaged' : 'unreadable', detail }
}

/** Codes of what the server itself refuses, by status. */
const OF_SERVER: Readonly<Record<number, readonly [code: string, detail: string]>> = {
  400: ['bad-request', 'The request is not of the form that this address takes.'],
  401: ['no-token', 'Show a token that is good: Authorization: Bearer …'],
  404: ['not-found', 'There is nothing at this address.'],
  405: ['not-allowed', 'This address does not take this method.'],
  408: ['too-slow', 'The request took too long to come.'],
  413: ['too-large', 'The body is larger than this server takes.'],
  414: ['too-long', 'The address is longer than this server takes.'],
  415: ['media-type', 'This address does not take a body of this media type.'],
  429: ['too-many', 'Too many requests. Ask again after the seconds that Retry-After says.'],
  431: ['headers-too-large', 'The headers are larger than this server takes.'],
  503: ['busy', 'This could not be answered in time. Ask again.'],
}

function factsOfServer({ statusCode, validation, message, code: kind }: Partial<FastifyError>): ProblemFacts {
  const status = statusCode ?? 500
  const [code, detail] = OF_SERVER[status] ?? ['internal', 'Something went wrong inside. Nothing was changed.']
  if (OF_SERVER[status] === undefined) return { status: status >= 400 && status < 500 ? 400 : 500, code, detail }
  const isOfBody = validation !== undefined || kind === 'FST_ERR_CTP_INVALID_JSON_BODY' || kind === 'FST_ERR_CTP_EMPTY_JSON_BODY'
  return { status, code, detail: status === 400 && isOfBody && message !== undefined ? message : detail }
}

/** A problem as it is sent. */
export function problemOf({ status, code, detail, findings, operation, row, cost }: ProblemFacts, request: string): object {
  return {
    type: 'about:blank',
    title: STATUS_CODES[status] ?? 'Error',
    status,
    code,
    detail,
    request,
    ...(findings !== undefined && { findings }),
    ...(operation !== undefined && { operation }),
    ...(row !== undefined && { row }),
    ...(cost !== undefined && { cost }),
  }
}
