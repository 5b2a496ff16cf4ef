import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'

const ERROR = { type: 'object', properties: { error: { type: 'string' } }, required: ['error'], additionalProperties: false }
const MISFIT = { type: 'object', properties: { misfit: { type: 'string' } }, required: ['misfit'], additionalProperties: false }

const OF_TYPE: Readonly<Record<string, object>> = {
  number: { type: 'number' },
  integer: { type: 'integer' },
  text: { type: 'string' },
  boolean: { type: 'boolean' },
  date: { type: 'string', format: 'date' },
  datetime: { type: 'string', pattern: '^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d(:\\d\\d(\\.\\d{1,3})?)?$' },
}

/** The JSON Schema (2020-12) of a row: its cells by name. Calculated ones are there to be read only. */
export function rowSchema({ name, columns }: TableFacts): Record<string, unknown> {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: name,
    type: 'object',
    properties: Object.fromEntries(columns.map((column) => [column.name, cellSchema(column)])),
    additionalProperties: false,
  }
}

function cellSchema({ type, unit, calculated, properties }: ColumnFacts): object {
  const value = type === null ? {} : (OF_TYPE[type] ?? {})
  const { note } = properties
  return {
    anyOf: [value, { type: 'null' }, calculated ? ERROR : MISFIT],
    ...(calculated && { readOnly: true }),
    ...(typeof note === 'string' && { description: note }),
    ...(unit !== null && { 'x-unit': unit }),
  }
}
