import type { ValueType } from 'mellow-abacus'
import type { DefinedColumn, DefinedTable } from 'mellow-abacus/model'
import { type Dialect, FAULTS } from '../dialects/index.js'
import type { SourceColumn } from '../formulas/index.js'
import type { MakingStatement } from '../statements/index.js'
import { type Magnitude, textLiteral, type Value } from '../values/index.js'
import type { ShardSettings } from './shard-settings.js'

/** A column of a view of the shards, as the coordinator reads it. */
export interface RemoteColumn {
  readonly name: string
  readonly type: ValueType
  /** What it says of the error of the column that it stands beside; null for a column with values. */
  readonly fault: 'code' | 'number' | null
}

/** What is known of a value that shards calculate. */
export interface KnownValue {
  readonly size: Magnitude
  readonly mayFail: boolean
  readonly isApproximate: boolean
  readonly isFull: boolean
}

/** The schemas of a model over several servers, and which servers there are. */
interface Places {
  readonly dialect: Dialect
  readonly schema: string
  readonly shardSchema: string
  readonly settings: ShardSettings
}

/** Foreign tables of the coordinator, by which it reads what shards show. */
export class RemoteTables {
  readonly #options: Places

  constructor(places: Places) {
    this.#options = places
  }

  /** Foreign tables of a view of the shards; of a table that is whole everywhere one shard does. */
  tables(name: string, of: string, columns: readonly RemoteColumn[], isSpread: boolean): MakingStatement[] {
    const { dialect, shardSchema, settings } = this.#options
    const { quote, types } = dialect
    const list = columns
      .map((column) => `${quote(column.name)} ${column.fault === 'number' ? 'int' : types[column.type]}`)
      .join(', ')
    const shards = isSpread ? settings.shards : settings.shards.slice(0, 1)
    return shards.map(({ server }, index): MakingStatement => {
      const options = `schema_name ${textLiteral(shardSchema)}, table_name ${textLiteral(of)}, async_capable 'true', fetch_size '10000'`
      const part = `${name} ${index + 1}`
      const text = `create foreign table ${this.named(part)} (${list}) server ${quote(server)} options (${options})`
      return { kind: 'foreign table', name: part, text }
    })
  }

  /** All rows of foreign tables. */
  rowsOf(parts: readonly MakingStatement[]): string {
    return parts.map(({ name }) => `select * from ${this.named(name)}`).join('\nunion all\n')
  }

  /** Something of the coordinator's schema, as statements name it. */
  named(name: string): string {
    const { dialect, schema } = this.#options
    return `${dialect.quote(schema)}.${dialect.quote(name)}`
  }

  /** How the coordinator reads a column. */
  sourceColumn(
    { name, type }: DefinedColumn,
    { size, isApproximate, isFull }: KnownValue,
    fault: RemoteColumn['fault'],
  ): SourceColumn {
    const { quote } = this.#options.dialect
    const plain = `s.${quote(name)}`
    const code = `s.${quote(`${name}!fault`)}`
    const numbers = FAULTS.map((one, index) => `when '${one}' then ${index + 1}`).join(' ')
    return {
      value: type === 'integer' ? `cast(${plain} as float8)` : plain,
      fault: fault === null ? null : fault === 'number' ? code : `case ${code} ${numbers} end`,
      isFull,
      size,
      shown: type === 'integer' && fault === null ? plain : null,
      isApproximate,
    }
  }
}

/** The columns that the view of a table has on the shards. */
export function columnsShown({ columns }: DefinedTable, known: ReadonlyMap<number, KnownValue>): RemoteColumn[] {
  return columns.flatMap(({ id, name, type }): RemoteColumn[] => {
    const value = known.get(id)
    if (value === undefined) return []
    const own = { name, type: type ?? 'text', fault: null }
    return value.mayFail ? [own, { name: `${name}!fault`, type: 'text', fault: 'code' }] : [own]
  })
}

/** The columns that totals of shards have. */
export function columnsOfTotals({ columns }: DefinedTable, known: ReadonlyMap<number, KnownValue>): RemoteColumn[] {
  return columns.flatMap(({ id, name, type }): RemoteColumn[] => {
    const own = { name, type: type === 'integer' ? 'number' : (type ?? 'text'), fault: null } as const
    return known.get(id)?.mayFail === true ? [own, { name: `${name}!fault`, type: 'number', fault: 'number' }] : [own]
  })
}

/** What is known of a value by its terms. */
export function knownOf({ size, fault, isApproximate }: Value): Omit<KnownValue, 'isFull'> {
  return { size, mayFail: fault !== null, isApproximate }
}
