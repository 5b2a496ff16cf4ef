import { type Checked, type Definitions, withoutSteps } from 'mellow-abacus/model'

/** The same with named steps written out, so that equal parts are equal wherever they stand. */
export function withoutNamedSteps(definitions: Definitions): Definitions {
  const written = <One extends { readonly expression: Checked | null }>(one: One): One =>
    one.expression === null ? one : { ...one, expression: withoutSteps(one.expression) }
  return {
    ...definitions,
    values: definitions.values.map(written),
    reports: definitions.reports.map(({ view, ...report }) => ({
      ...report,
      view: view && {
        ...view,
        where: view.where && withoutSteps(view.where),
        keys: view.keys.map(written),
        tallies: view.tallies.map(written),
        lines: view.lines.map(written),
      },
    })),
    tables: definitions.tables.map((table) => ({
      ...table,
      columns: table.columns.map(written),
      tallies: table.tallies.map(written),
      rings: table.rings.map((ring) => ({
        ...ring,
        by: ring.by.map((one) => withoutSteps(one)),
        orderBy: ring.orderBy.map((one) => ({ ...one, key: withoutSteps(one.key) })),
      })),
    })),
  }
}
