import { type Checked, type CheckedRows, splitCondition } from 'mellow-abacus/model'
import { indented, type JoinPlaces, PairRows, type Relation, type Term } from '../terms/index.js'
import { type Value, withoutNegativeZero } from '../values/index.js'
import { finished, inputOf, needsOrder, type OverRows, type Parts } from './aggregate-input.js'
import { FormulaWriter } from './formula.js'
import type { Membership } from './membership.js'
import type { Reading, TableReading } from './reading.js'

/** An aggregate over the rows that each row pairs with. */
export function paired(table: TableReading, from: TableReading, node: OverRows, membership: Membership): Value {
  const pairs = new PairRows()
  const reading = new PairReading(table, from, pairs)
  const hidden = (part: Checked, wanted?: 'boolean'): Value =>
    withoutNegativeZero(new FormulaWriter(table.model.writing, reading).write(part, wanted))
  const parts: Parts = {
    values: node.args.map((arg) => hidden(arg)),
    condition: node.where === null ? null : hidden(node.where, 'boolean'),
    order: node.order.map(({ key, descending }) => ({ key: hidden(key), descending, isText: key.type === 'text' })),
    rowKey: needsOrder(node) ? from.rowKey.map((term) => pairs.of('read', term)) : [],
  }
  const inPairs = (term: Term): Term => (term.rows === null ? pairs.constant(term.text) : term)
  const input = inputOf(table.model.writing, node, parts, inPairs)
  const ownKey = table.rowKey
  const keyTerms = ownKey.map((term) => pairs.of('own', term))
  const { keys, without, blankIsKey, ownFault, descendants } = membership
  const strictTerms = [...keys.map(({ read }) => read), ...without, ...(descendants?.terms ?? [])]
  const sides = { read: pairs.termsOf('read'), own: pairs.termsOf('own') }
  const rank = Math.max(
    0,
    ...[...sides.read, ...sides.own, ...strictTerms, ...keys.map(({ own }) => own), ...(ownFault === null ? [] : [ownFault])].map(
      (one) => one.rank,
    ),
  )
  const known = equalities(table, from, node, parts)
  const identity = `pairs ${table.model.nextNumber()}`
  const join = table.rows.join(
    identity,
    (alias): Relation => ({
      alias,
      rank: rank + 1,
      own: [...ownKey, ...(ownFault === null ? [] : [ownFault])],
      reads: [
        { rows: from.rows, terms: [...sides.read, ...strictTerms, ...known.map(({ read }) => read)] },
        {
          rows: table.rows,
          terms: [
            ...sides.own,
            ...ownKey,
            ...keys.map(({ own }) => own),
            ...known.map(({ own }) => own),
            ...(ownFault === null ? [] : [ownFault]),
          ],
        },
      ],
      write: (places, columns) => {
        const on = [
          ...known.map(({ read, own }) => `${places.read(read, 'm')} = ${places.read(own, 'o')}`),
          ...keys.flatMap(({ read, own }) => {
            const [left, right] = [places.read(read, 'm'), places.read(own, 'o')]
            return blankIsKey ? [`${left} is not distinct from ${right}`] : [`${left} = ${right}`]
          }),
          ...without.map((fault) => `${places.read(fault, 'm')} is null`),
        ]
        const all = on.length === 0 ? 'true' : on.join(' and ')
        const [outer, inner] = [places.from(table.rows), places.from(from.rows)]
        const beginning =
          descendants === undefined
            ? `${outer} as o join ${inner} as m on ${all}`
            : `${outer} as o join (\n${indented(descendants.write(places))}\n) as w on ${sameKeys(places, ownKey, 'o', 'a')} join ${inner} as m on ${sameKeys(places, from.rowKey, 'm', 'r')} and ${all}`
        const pairTerms = [
          ...keyTerms,
          ...input.terms.filter((term) => term.rows !== null),
          ...(input.where === null ? [] : [input.where]),
        ]
        const selected = places.select(pairTerms, beginning, (term) => {
          if (term.origin.kind !== 'read') return null
          const { side, term: of } = pairs.sideOf(term)
          return places.read(of, side === 'read' ? 'm' : 'o')
        })
        const inR = (term: Term): string => places.read(term)
        const groups = keyTerms.map(inR)
        const list = [
          ...groups.map((one, index) => `${one} as k${index}`),
          ...columns.map((column) => `${column.write(places)} as ${places.quote(column.name)}`),
        ]
        const where = input.where === null ? '' : ` where ${inR(input.where)}`
        const select = `select ${list.join(', ')}\nfrom (\n${indented(selected)}\n) as r${where} group by ${groups.join(', ')}`
        const onKey = ownKey.map((term, index) => `${alias}.k${index} = ${places.own(term)}`)
        return `left join (\n${indented(indented(select))}\n  ) as ${alias} on ${onKey.join(' and ')}`
      },
    }),
  )
  return finished(table, node, ownFault, input, (kind) =>
    join({ name: kind, reads: [], write: (places) => input.write(kind, (term) => places.read(term)) }),
  )
}

/** How the keys of rows are told to be those of a list of rows below others. */
function sameKeys(places: JoinPlaces, keys: readonly Term[], alias: string, as: 'a' | 'r'): string {
  return keys.map((term, index) => `w.${as}${index} = ${places.read(term, alias)}`).join(' and ')
}

/** Equalities of the condition that pairs can be found by: those without which a pair is surely not taken in, and is no error. */
function equalities(table: TableReading, from: TableReading, node: OverRows, parts: Parts): { read: Term; own: Term }[] {
  if (parts.condition !== null && parts.condition.fault !== null) return []
  return splitCondition(node.where).keys.map(({ member, reader }) => ({
    read: from.hidden(member).value,
    own: table.hidden(reader).value,
  }))
}

/** What a row and a row read for it are together. */
class PairReading implements Reading {
  readonly #own: TableReading
  readonly #from: TableReading
  readonly #pairs: PairRows

  constructor(own: TableReading, from: TableReading, pairs: PairRows) {
    this.#own = own
    this.#from = from
    this.#pairs = pairs
  }

  #of(side: 'read' | 'own', value: Value): Value {
    return {
      ...value,
      value: this.#pairs.of(side, value.value),
      fault: value.fault === null ? null : this.#pairs.of(side, value.fault),
    }
  }

  column(id: number): Value {
    return this.#of('read', this.#from.column(id))
  }

  follow(links: readonly number[], read: Checked): Value {
    return this.#of('read', this.#from.follow(links, read))
  }

  single(id: number): Value {
    return this.#of('read', this.#from.single(id))
  }

  outer(inner: Checked): Value {
    return this.#of('own', this.#own.hidden(inner))
  }

  days(rows: CheckedRows): Term {
    return this.#pairs.of('read', this.#from.days(rows))
  }

  overRows(node: OverRows): Value {
    return this.#of('read', this.#from.overRows(node))
  }
}
