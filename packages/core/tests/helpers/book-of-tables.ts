import type { ColumnId, LinkId, Scope, ScopeColumn, ScopeLink, ScopeValue } from '../../src/formula/index.js'
import type { ValueType } from '../../src/index.js'
import { parseUnit } from '../../src/units/index.js'

/** A table as the checker sees it: `column: type`, with a unit behind a space and tags behind `#`; links as `name: target`. */
export interface TableSketch {
  readonly columns: Readonly<Record<string, string>>
  readonly links?: Readonly<Record<string, string>>
  readonly tallies?: Readonly<Record<string, ValueType>>
  /** Columns calculated by a division. */
  readonly ratios?: Readonly<Record<string, { readonly top: string; readonly bottom: string }>>
}

/** Scopes of tables that exist only for the checker: links, tallies and named values included. */
export function scopesOf(
  tables: Readonly<Record<string, TableSketch>>,
  values: Readonly<Record<string, ValueType>> = {},
): (table: string) => Scope {
  const known = (type: ValueType): { type: ValueType; mayBeBlank: boolean; mayFail: boolean } => ({
    type,
    mayBeBlank: true,
    mayFail: true,
  })
  const named = <Item>(items: Readonly<Record<string, Item>>, name: string): [string, Item] | undefined =>
    Object.entries(items).find(([key]) => key.toLowerCase() === name.toLowerCase())
  const tableNames = Object.keys(tables)
  const scopeOf = (table: string): Scope => {
    const sketch = tables[table] as TableSketch
    const columnOf = (name: string, text: string): ScopeColumn => {
      const [type = 'number', unit = ''] = text.split('#')[0]?.trim().split(' ') ?? []
      const place = tableNames.indexOf(table) * 1000 + Object.keys(sketch.columns).indexOf(name) + 1
      const ratio = sketch.ratios?.[name]
      const parsed = parseUnit(unit)
      return {
        id: place as ColumnId,
        name,
        ...known(type as ValueType),
        ...(parsed !== null && { unit: parsed }),
        ...(ratio !== undefined && { ratio: () => ratio }),
      }
    }
    const linkOf = (name: string, target: string): ScopeLink => ({
      id: `${table}.${name}` as unknown as LinkId,
      name,
      target: scopeOf(target),
    })
    const single = (of: 'value' | 'tally', [name, type]: [string, ValueType]): ScopeValue => ({
      id: 0 as ColumnId,
      name,
      of,
      ...known(type),
    })
    const columns = (): ScopeColumn[] => Object.entries(sketch.columns).map(([name, text]) => columnOf(name, text))
    const { links = {}, tallies = {} } = sketch
    return {
      table,
      functionNamed: () => undefined,
      functions: () => [],
      column: (name) => {
        const found = named(sketch.columns, name)
        return found === undefined ? undefined : columnOf(...found)
      },
      columnNames: () => Object.keys(sketch.columns),
      tablesWithColumn: (name) =>
        tableNames.filter((other) => other !== table && named((tables[other] as TableSketch).columns, name) !== undefined),
      tagged: (tag) =>
        columns().filter((column) =>
          (sketch.columns[column.name] as string)
            .split('#')
            .slice(1)
            .map((one) => one.trim())
            .includes(tag),
        ),
      tagNames: () =>
        new Set(
          Object.values(sketch.columns).flatMap((text) =>
            text
              .split('#')
              .slice(1)
              .map((one) => one.trim()),
          ),
        ),
      link: (name) => {
        const found = named(links, name)
        return found === undefined ? undefined : linkOf(...found)
      },
      *links() {
        for (const [name, target] of Object.entries(links)) yield linkOf(name, target)
      },
      tally: (name) => {
        const found = named(tallies, name)
        return found === undefined ? undefined : single('tally', found)
      },
      tallies: () => Object.entries(tallies).map((one) => single('tally', one)),
      value: (name) => {
        const found = named(values, name)
        return found === undefined ? undefined : single('value', found)
      },
      values: () => Object.entries(values).map((one) => single('value', one)),
      tableNamed: (name) => {
        const found = tableNames.find((other) => other.toLowerCase() === name.toLowerCase())
        return found === undefined ? undefined : scopeOf(found)
      },
      tableNames: () => tableNames,
    }
  }
  return scopeOf
}

/** The honey co-operative as far as formulas over several tables need it. */
export const combScopes: (table: string) => Scope = scopesOf(
  {
    apiaries: {
      columns: { code: 'text', name: 'text', region: 'text', latitude: 'number °' },
      tallies: { stand_count: 'number' },
    },
    hives: {
      columns: { tag: 'text', yard: 'text', frames: 'integer', parent: 'text' },
      links: { apiary: 'apiaries', parent: 'hives' },
    },
    inspections: {
      columns: {
        hive: 'text',
        seen: 'date',
        last_seen: 'date',
        mites: 'number',
        bees_sampled: 'integer',
        stores_kg: 'number',
        brood: 'number #score',
        temper: 'number #score',
        notes: 'text',
        ok: 'boolean',
      },
      links: { hive: 'hives' },
    },
    harvests: {
      columns: { hive: 'text', site: 'text', grade: 'text', honey_kg: 'number', frames: 'integer', yield: 'number' },
      links: { hive: 'hives', site: 'apiaries' },
      tallies: { total_kg: 'number' },
      ratios: { yield: { top: 'honey_kg', bottom: 'frames' } },
    },
    transfers: { columns: { out: 'text', into: 'text', frames: 'integer' }, links: { out: 'hives', into: 'hives' } },
    weather: { columns: { day: 'date', rain_mm: 'number' } },
    calendar: { columns: { day: 'date', holiday: 'boolean', stamp: 'text' } },
    rates: { columns: { code: 'text', price: 'number', from_day: 'date' } },
  },
  { feed_price: 'number', region: 'text' },
)
