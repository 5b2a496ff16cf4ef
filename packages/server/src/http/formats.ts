import Negotiator from 'negotiator'
import { HttpProblem } from './problems.js'

/**
 * The media type of those offered that a request takes first.
 *
 * @param accept - the header; all are taken without it
 * @throws HttpProblem 406 where none is taken
 */
export function acceptedType<Type extends string>(accept: string | undefined, offered: readonly Type[]): Type {
  const taken = new Negotiator({ headers: { accept } }).mediaType([...offered])
  if (taken !== undefined) return taken as Type
  throw new HttpProblem({
    status: 406,
    code: 'not-acceptable',
    detail: `This can be had as ${offered.join(', ')}.`,
  })
}

/** The media type of a body, without its parameters. */
export function typeOfBody(header: string | undefined): string {
  return (header ?? '').split(';')[0]?.trim().toLowerCase() ?? ''
}
