import { DependencyGraph } from './dependency-graph.js'
import type { EngineNode, IndexMemory } from './node.js'
import type { NodeId } from './node-id.js'

interface Shared {
  readonly node: EngineNode
  users: number
  /** What it uses itself, given back with it. */
  readonly held: readonly string[]
}

/** Lets the one who makes a node take further ones, which are given back when the node ends. */
export type Hold = <Node extends EngineNode>(key: string, make: (id: NodeId, hold: Hold) => Node) => Node

/**
 * All nodes of a workbook and how they hang together. Nodes that only the engine knows go by a key that says what they are,
 * so that formulas share them; they end with their last user.
 */
export class NodeRegistry {
  readonly nodeGraph: DependencyGraph = new DependencyGraph()
  readonly #nodes: Map<NodeId, EngineNode> = new Map()
  readonly #shared: Map<string, Shared> = new Map()
  #fresh: Set<NodeId> = new Set()
  /** Nodes of which something is yet to be computed, and those made from them: what is made from one of them is one too. */
  readonly stale: Set<NodeId> = new Set()
  /** What only the engine keeps, in a workbook opened from a file: computed when something it has to do with is touched. */
  readonly #unmaterialized: Set<NodeId> = new Set()
  #nextId = -1
  #lastOrder: { readonly seeds: ReadonlySet<NodeId>; readonly version: number; readonly order: readonly NodeId[] } | null = null

  /** The node of an id, if there is one. */
  node(id: NodeId): EngineNode | undefined {
    return this.#nodes.get(id)
  }

  /** What the nodes keep besides columns. */
  *memory(): IterableIterator<IndexMemory> {
    for (const node of this.#nodes.values()) {
      const memory = node.memory?.()
      if (memory !== undefined) yield memory
    }
  }

  /** Puts a node in, in place of one with its id; it is computed in full in the next pass. */
  put(node: EngineNode): void {
    this.#nodes.set(node.id, node)
    this.stale.delete(node.id)
    this.nodeGraph.setSources(node.id, node.sources)
    this.#fresh.add(node.id)
  }

  /** Takes a node out. */
  drop(id: NodeId): void {
    const node = this.#nodes.get(id)
    this.#nodes.delete(id)
    this.nodeGraph.remove(id)
    this.#fresh.delete(id)
    this.stale.delete(id)
    this.#unmaterialized.delete(id)
    node?.end?.()
  }

  /** Takes everything as computed: columns as they come from a file, what is kept besides as soon as it is needed. */
  unmaterialize(): void {
    this.#fresh.clear()
    for (const node of this.#nodes.values()) if (node.id < 0 && node.isStateless !== true) this.#unmaterialized.add(node.id)
  }

  /** True when something is yet to be made of what a file holds. */
  get hasUnmaterialized(): boolean {
    return this.#unmaterialized.size > 0
  }

  /** The unmaterialized nodes that some nodes need to be computed, those among them included; sources first. */
  unmaterializedFor(ids: Iterable<NodeId>): NodeId[] {
    if (this.#unmaterialized.size === 0) return []
    const found = new Set<NodeId>()
    const open = [...ids]
    const seen = new Set(open)
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      if (this.#unmaterialized.has(id)) found.add(id)
      for (const source of this.#nodes.get(id)?.sources ?? []) {
        if (!this.#unmaterialized.has(source) || seen.has(source)) continue
        seen.add(source)
        open.push(source)
      }
    }
    return this.#inOrder(found)
  }

  /**
   * Some nodes and everything made from them, each after all it is made from. The order is kept for the next time the same are
   * asked for: edits mostly come again and again to the same columns.
   */
  downstream(seeds: ReadonlySet<NodeId>): readonly NodeId[] {
    if (this.#lastOrder?.version === this.nodeGraph.version && isSame(this.#lastOrder.seeds, seeds)) return this.#lastOrder.order
    const walked = this.nodeGraph.downstream(seeds)
    if ('cycle' in walked) throw new Error(`a cycle reached the engine: ${walked.cycle.join(' → ')}`)
    this.#lastOrder = { seeds: new Set(seeds), version: this.nodeGraph.version, order: walked.order }
    return walked.order
  }

  /** All unmaterialized nodes, sources first. */
  allUnmaterialized(): NodeId[] {
    return this.#inOrder(this.#unmaterialized)
  }

  /** A node is about to be computed in full. */
  noteMaterialized(id: NodeId): void {
    this.#unmaterialized.delete(id)
  }

  /** True when something that a node is made from is yet to be computed. */
  hasStaleSource(node: EngineNode): boolean {
    return this.stale.size > 0 && node.sources.some((source) => this.stale.has(source))
  }

  /** Says of a node whether something of it, or of what it is made from, is yet to be computed. */
  noteStaleness(node: EngineNode): void {
    if (node.isStale || this.hasStaleSource(node)) this.stale.add(node.id)
    else this.stale.delete(node.id)
  }

  /** The stale nodes that some are made from, those included, sources first; all stale nodes when not given. */
  staleUpTo(wanted?: Iterable<NodeId>): NodeId[] {
    if (wanted === undefined) return this.#inOrder(this.stale)
    const found = new Set<NodeId>()
    const open = [...wanted].filter((id) => this.stale.has(id))
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      if (found.has(id)) continue
      found.add(id)
      // The way up never leaves them, since whatever is made from one of them is one.
      for (const source of this.nodeGraph.sourcesOf(id)) if (this.stale.has(source)) open.push(source)
    }
    return this.#inOrder(found)
  }

  #inOrder(ids: ReadonlySet<NodeId>): NodeId[] {
    if (ids.size <= 1) return [...ids]
    return this.downstream(ids).filter((id) => ids.has(id))
  }

  /** The shared node of a key, made at the first need. */
  acquire<Node extends EngineNode>(key: string, make: (id: NodeId, hold: Hold) => Node): Node {
    const known = this.#shared.get(key)
    if (known !== undefined) {
      known.users++
      return known.node as Node
    }
    const held: string[] = []
    const node = make(this.#nextId-- as NodeId, (inner, makeInner) => {
      held.push(inner)
      return this.acquire(inner, makeInner)
    })
    this.#shared.set(key, { node, users: 1, held })
    this.put(node)
    return node
  }

  /** The id of the shared node of a key. */
  shared(key: string): NodeId {
    const shared = this.#shared.get(key)
    if (shared === undefined) throw new ReferenceError(`nothing is shared as ${key}`)
    return shared.node.id
  }

  /** Gives a shared node back. */
  release(key: string): void {
    const shared = this.#shared.get(key)
    if (shared === undefined || --shared.users > 0) return
    this.#shared.delete(key)
    this.drop(shared.node.id)
    for (const inner of shared.held) this.release(inner)
  }

  /** The nodes that have to be computed in full, which are taken as computed from now on. */
  takeFresh(): Set<NodeId> {
    const fresh = this.#fresh
    this.#fresh = new Set()
    return fresh
  }
}

function isSame(left: ReadonlySet<NodeId>, right: ReadonlySet<NodeId>): boolean {
  if (left.size !== right.size) return false
  for (const id of left) if (!right.has(id)) return false
  return true
}
