import { type Layout, selectOf } from './layers.js'
import type { JoinedColumn, JoinPlaces, Relation, TableSpace, Term } from './term.js'

/** Terms of some rows that a statement has to have. */
interface Demand {
  readonly rows: TableSpace
  readonly rank: number
  readonly terms: Set<Term>
}

/**
 * Writes the statement that gives terms of some rows. Rows whose terms need other rows are calculated in steps: each is a common
 * table expression over the one before it, joined with what other rows come to, so that every column is calculated once.
 *
 * @returns the steps in order, the last of which has what is asked for, by the names of the terms
 */
export function statementOf(
  rows: TableSpace,
  terms: readonly Term[],
  layout: Layout,
): { readonly text: string; nameOf(term: Term): string } {
  const demands = new Map<string, Demand>()
  const ranks: number[] = []
  const demand = (of: TableSpace, wanted: readonly Term[]): Demand => {
    const rank = Math.max(0, ...wanted.map((one) => one.rank))
    const key = stepName(of, rank)
    let found = demands.get(key)
    if (found === undefined) {
      found = { rows: of, rank, terms: new Set() }
      demands.set(key, found)
      ranks.push(rank)
    }
    for (const one of wanted) found.terms.add(one)
    return found
  }
  const last = demand(rows, terms)
  const made: { readonly demand: Demand; readonly begun: Begun }[] = []
  for (let rank = last.rank; rank >= 0; rank--)
    for (const one of [...demands.values()]) if (one.rank === rank) made.push({ demand: one, begun: begin(one, demand) })
  const steps = made.reverse().map(({ demand: one, begun }) => ({
    one,
    text: selectOf([...one.terms], { from: begun.from(layout), read: begun.read(layout) }, layout),
  }))
  const text = steps
    .slice(0, -1)
    .map(
      ({ one, text: step }) =>
        `${layout.quote(stepName(one.rows, one.rank))} as${one.rank === 0 ? ' not materialized' : ''} (\n${step}\n)`,
    )
    .join(',\n')
  const final = (steps.at(-1) as { text: string }).text
  return { text: text === '' ? final : `with ${text}\n${final}`, nameOf: (term) => layout.quote(rows.nameOf(term)) }
}

function stepName(rows: TableSpace, rank: number): string {
  return `${rows.name}@${rank}`
}

/** What the select of a demand begins with. */
interface Begun {
  from(layout: Layout): string
  read(layout: Layout): (term: Term) => string | null
}

type Demanding = (rows: TableSpace, terms: readonly Term[]) => Demand

/** Finds what a demand needs: of its own rows at a lower rank, and of other rows through what is joined. */
function begin(of: Demand, demand: Demanding): Begun {
  if (of.rank === 0) {
    const { source } = of.rows
    const read = (term: Term): string | null => (term.origin.kind === 'read' ? term.text : null)
    return { from: () => source ?? '', read: () => read }
  }
  const relations = new Map<Relation, Map<string, JoinedColumn>>()
  const lower = new Set<Term>()
  const seen = new Set<Term>()
  const open = [...of.terms]
  for (let term = open.pop(); term !== undefined; term = open.pop()) {
    if (seen.has(term) || term.isConstant) continue
    seen.add(term)
    if (term.rank < of.rank && term.isColumn) lower.add(term)
    else if (term.origin.kind === 'joined') {
      const { relation, column } = term.origin
      const columns = relations.get(relation) ?? new Map<string, JoinedColumn>()
      relations.set(relation, columns.set(column.name, column))
    } else open.push(...term.inputs)
  }
  for (const relation of relations.keys()) for (const term of relation.own) if (term.rows !== null) lower.add(term)
  const below = demand(of.rows, [...lower])
  const sources = new Map([...relations].map(([relation, columns]) => [relation, sourcesOf(relation, columns.values(), demand)]))
  return {
    from: (layout) => {
      const joins = [...relations].map(([relation, columns]) =>
        relation.write(placesIn(layout, relation, sources.get(relation) as ReadonlyMap<TableSpace, Demand>), [
          ...columns.values(),
        ]),
      )
      return [`${layout.quote(stepName(below.rows, below.rank))} as t`, ...joins].join('\n  ')
    },
    read: (layout) => (term) => {
      if (term.isConstant || !term.isColumn) return null
      if (term.rank < of.rank) return columnOf(layout, 't', term)
      return term.origin.kind === 'joined' ? `${term.origin.relation.alias}.${layout.quote(term.origin.column.name)}` : null
    },
  }
}

/** The steps that a join reads: one for each table. */
function sourcesOf(relation: Relation, columns: Iterable<JoinedColumn>, demand: Demanding): ReadonlyMap<TableSpace, Demand> {
  const wanted = new Map<TableSpace, Set<Term>>()
  for (const { rows, terms } of [...relation.reads, ...[...columns].flatMap(({ reads }) => reads)]) {
    const found = wanted.get(rows) ?? new Set()
    for (const term of terms) if (term.rows !== null) found.add(term)
    wanted.set(rows, found)
  }
  return new Map([...wanted].map(([rows, terms]) => [rows, demand(rows, [...terms])]))
}

function columnOf(layout: Layout, alias: string, term: Term): string {
  return term.rows === null ? term.text : `${alias}.${layout.quote(term.rows.nameOf(term))}`
}

function placesIn(layout: Layout, relation: Relation, sources: ReadonlyMap<TableSpace, Demand>): JoinPlaces {
  return {
    quote: (name) => layout.quote(name),
    own: (term) => columnOf(layout, 't', term),
    read: (term, as = 'r') => columnOf(layout, as, term),
    from: (rows) => {
      const found = sources.get(rows)
      if (found === undefined) throw new ReferenceError(`${rows.name} is not read by ${relation.alias}`)
      return layout.quote(stepName(found.rows, found.rank))
    },
    select: (targets, from, read) => selectOf(targets, { from, read }, layout),
  }
}
