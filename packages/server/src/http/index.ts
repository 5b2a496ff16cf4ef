/**
 * What all addresses have in common: problems, tags, formats, keys, and schemas that check what comes. Start reading at
 * `problems.ts`.
 * @module
 */
export { namesTag, namesTagWeakly, tagOf } from './etag.js'
export { acceptedType, typeOfBody } from './formats.js'
export { KeyedRequests } from './keyed.js'
export { BUSY, factsOfFault, HttpProblem, noBook, PROBLEM_TYPE, problemOf } from './problems.js'
export { securityHeaders } from './security-headers.js'
export { jsonSchemaOf, type SchemaTypes, validatorCompiler } from './valibot-schemas.js'
