import { Readable } from 'node:stream'
import { toJsonSchema } from '@valibot/to-json-schema'
import type { FastifySchemaCompiler, FastifyTypeProvider } from 'fastify'
import * as v from 'valibot'

/** Types of requests from the schemas that check them. */
export interface SchemaTypes extends FastifyTypeProvider {
  validator: this['schema'] extends v.GenericSchema ? v.InferOutput<this['schema']> : unknown
  serializer: this['schema'] extends v.GenericSchema ? v.InferInput<this['schema']> : unknown
}

/** Checks requests by schemas. */
export const validatorCompiler: FastifySchemaCompiler<v.GenericSchema> = ({ schema, httpPart }) => {
  return (data: unknown) => {
    if (httpPart === 'body' && isRaw(data)) return { value: data }
    const read = v.safeParse(schema, data)
    if (read.success) return { value: read.output }
    const [issue] = read.issues
    const place = v.getDotPath(issue)
    const part = PARTS[httpPart ?? ''] ?? 'the request'
    return { error: new Error(`${part}${place === null ? '' : `, ${place}`}: ${issue.message}`) }
  }
}

/** True for a body in another format than JSON: what it is, is found out when it is read. */
function isRaw(body: unknown): boolean {
  return body instanceof Uint8Array || body instanceof Readable
}

const PARTS: Readonly<Record<string, string>> = {
  body: 'the body',
  params: 'the address',
  querystring: 'the query of the address',
  headers: 'the headers',
}

/** A schema as JSON Schema, for the document of the interface. */
export function jsonSchemaOf(schema: v.GenericSchema): Record<string, unknown> {
  const { $schema: _, ...json } = toJsonSchema(schema, { errorMode: 'ignore', typeMode: 'input', target: 'draft-2020-12' })
  return json as Record<string, unknown>
}
