import type * as v from 'valibot'
import type { ROUTES, RouteName } from './routes.js'
import type { Problem } from './values.js'

type Of<Name extends RouteName> = (typeof ROUTES)[Name]

/** What a route answers when all goes well. */
export type WireAnswer<Name extends RouteName> = Of<Name>['answers'] extends infer Answers
  ? { [Status in keyof Answers]: Answers[Status] extends v.GenericSchema ? v.InferOutput<Answers[Status]> : never }[keyof Answers]
  : never

/** The body that a route takes. */
export type WireBody<Name extends RouteName> =
  Of<Name> extends { readonly body: infer Body extends v.GenericSchema } ? v.InferInput<Body> : undefined

/** What a route answers when something does not go well. */
export type WireProblem = v.InferOutput<typeof Problem>
