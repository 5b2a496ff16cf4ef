import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { ColumnId } from '../../formula/index.js'
import { DependencyGraph } from './dependency-graph.js'

const id = (value: number): ColumnId => value as ColumnId

function graphOf(edges: readonly (readonly [number, readonly number[]])[]): DependencyGraph {
  const graph = new DependencyGraph()
  for (const [column, sources] of edges) graph.setSources(id(column), sources.map(id))
  return graph
}

describe('the dependency graph', () => {
  test('gives everything downstream, each after all it reads', () => {
    const graph = graphOf([
      [4, [2, 3]],
      [3, [1]],
      [2, [1]],
      [5, [4, 1]],
      [9, [8]],
    ])
    const walked = graph.downstream([id(1)])
    const order = 'order' in walked ? walked.order : []
    expect([...order].sort()).toEqual([1, 2, 3, 4, 5])
    for (const column of order)
      for (const source of graph.sourcesOf(column)) expect(order.indexOf(source)).toBeLessThan(order.indexOf(column))
  })

  test('names the path of a cycle: each reads the next', () => {
    const walked = graphOf([
      [1, [2]],
      [2, [3]],
      [3, [1]],
      [4, [1]],
    ]).downstream([id(2)])
    const cycle = 'cycle' in walked ? walked.cycle : []
    expect(cycle).toHaveLength(4)
    expect(cycle[0]).toBe(cycle[3])
    for (let at = 0; at < 3; at++)
      expect([
        [1, 2],
        [2, 3],
        [3, 1],
      ]).toContainEqual([cycle[at], cycle[at + 1]])
    expect(graphOf([[1, [1]]]).downstream([id(1)])).toEqual({ cycle: [1, 1] })
  })

  test('forgets what is replaced or removed', () => {
    const graph = graphOf([
      [2, [1]],
      [3, [2]],
    ])
    graph.setSources(id(2), [id(7)])
    expect([...graph.dependentsOf(id(1))]).toEqual([])
    expect(graph.downstream([id(7)])).toEqual({ order: [7, 2, 3] })
    graph.remove(id(3))
    expect(graph.downstream([id(7)])).toEqual({ order: [7, 2] })
  })

  test('walks a chain of a hundred thousand without running out of stack', () => {
    const graph = graphOf(Array.from({ length: 100_000 }, (_, index) => [index + 1, [index]] as const))
    const walked = graph.downstream([id(0)])
    expect('order' in walked && [walked.order.length, walked.order.at(-1)]).toEqual([100_001, 100_000])
  })

  test('finds a cycle exactly when there is one', () => {
    const edges = fc.array(fc.tuple(fc.nat(8), fc.array(fc.nat(8), { maxLength: 3 })), { maxLength: 9 })
    fc.assert(
      fc.property(edges, (list) => {
        const graph = graphOf(list)
        const reads = new Map(list)
        const reaches = (from: number, to: number, seen = new Set<number>()): boolean =>
          (reads.get(from) ?? []).some((next) => next === to || (!seen.has(next) && reaches(next, to, seen.add(next))))
        const hasCycle = [...reads.keys()].some((column) => reaches(column, column))
        expect('cycle' in graph.downstream(Array.from({ length: 9 }, (_, column) => id(column)))).toBe(hasCycle)
      }),
    )
  })
})
