import { describeRelation, sourceOfSample, takeSample } from '@mellow-abacus/sql'

/** Makes a table of a sample in a workbook, and attaches it to the relation of that name in a schema. */
export async function attachSample(book, table, database, schema) {
  const relation = await describeRelation(database, [schema, table])
  const sample = await takeSample(database, relation, { most: 1000, key: null, zone: 'UTC' })
  const { columns, key, rowCount } = sample
  book.applyJson([
    { op: 'add-table', table, columns: columns.map(({ of, type }) => ({ name: of, type })) },
    { op: 'insert-rows', table, count: rowCount, block: Object.fromEntries(columns.map(({ of, cells }) => [of, cells])) },
    { op: 'change-table', table, set: { source: sourceOfSample(database, sample), key } },
  ])
}
