import { functionNamed } from '../../functions/index.js'
import { childrenOf, parseFormula, type Syntax, type Token, tokenize } from '../syntax/index.js'

/** Widest line that the formatter leaves in one piece, in UTF-16 units. */
const WIDEST_LINE = 100
const INDENT = '  '

/** A token or comment as it is printed. */
interface Piece {
  readonly text: string
  readonly from: number
  readonly isComment: boolean
  /** True when the text before it began a new line. */
  readonly startsLine: boolean
}

/** Places that break together, when the line is too wide: those of one construct. */
interface BreakGroup {
  readonly depth: number
  readonly places: ReadonlyMap<number, number>
}

/**
 * A formula with even spacing: words of the language in small letters, one space around operators, lines broken where the
 * writer broke them or where they get wide, comments kept. What it means is unchanged: the tokens are the same. A formula
 * that cannot be read is given back as it is.
 */
export function formatFormula(text: string): string {
  const parsed = parseFormula(text)
  if (parsed.findings.length > 0) return text
  const layout = new Layout(parsed.tree)
  const pieces = piecesOf(text, parsed.keywords, layout)
  const lines: Piece[][] = []
  for (const [index, piece] of pieces.entries()) {
    const last = lines.at(-1)
    if (last === undefined || piece.startsLine || pieces[index - 1]?.isComment === true) lines.push([piece])
    else last.push(piece)
  }
  return lines
    .flatMap((line) => layout.wrap(line))
    .map((line, index) => (index === 0 ? '' : INDENT.repeat(layout.indentOf((line[0] as Piece).from))) + layout.join(line))
    .join('\n')
}

function piecesOf(text: string, keywords: ReadonlySet<number>, layout: Layout): Piece[] {
  const { tokens, comments } = tokenize(text)
  const pieces = [
    ...tokens.flatMap((token) =>
      token.kind === 'end' ? [] : [{ ...token, text: tokenText(text, token, keywords, layout), isComment: false }],
    ),
    ...comments.map((comment) => ({ ...comment, isComment: true })),
  ].sort((a, b) => a.from - b.from)
  return pieces.map(({ text: own, from, isComment }, index) => {
    const gap = text.slice(pieces[index - 1]?.to ?? 0, from)
    return { text: own, from, isComment, startsLine: index > 0 && gap.includes('\n') }
  })
}

function tokenText(text: string, token: Token, keywords: ReadonlySet<number>, layout: Layout): string {
  const written = text.slice(token.from, token.to)
  if (token.kind === 'sign') return token.sign
  if (token.kind !== 'name' || token.quoted) return written
  const isFunction = layout.isCallName(token.from) && functionNamed(written) !== undefined
  return keywords.has(token.from) || isFunction ? written.toLowerCase() : written
}

/** What the tree says about spaces, indents and places to break. */
class Layout {
  readonly #unarySigns: Set<number> = new Set()
  readonly #callNames: Set<number> = new Set()
  readonly #groups: BreakGroup[] = []
  /** Indent of a line that starts at a place of a break group. */
  readonly #indents: Map<number, number> = new Map()
  /** Spans with the indent of what continues inside them, outer before inner. */
  readonly #spans: { from: number; to: number; indent: number }[] = []

  constructor(tree: Syntax) {
    this.#walk(tree, 0, 0)
  }

  isCallName(from: number): boolean {
    return this.#callNames.has(from)
  }

  indentOf(from: number): number {
    const known = this.#indents.get(from)
    if (known !== undefined) return known
    return this.#spans.findLast((span) => from >= span.from && from < span.to)?.indent ?? 0
  }

  /** Breaks a line that is too wide at the outermost construct in it, and the lines that gives in turn. */
  wrap(line: readonly Piece[]): Piece[][] {
    const first = line[0] as Piece
    const width = this.indentOf(first.from) * INDENT.length + this.join(line).length
    if (width <= WIDEST_LINE) return [[...line]]
    const inner = new Set(line.slice(1).map((piece) => piece.from))
    let best: BreakGroup[] = []
    for (const group of this.#groups) {
      if (![...group.places.keys()].some((place) => inner.has(place))) continue
      if (best[0] === undefined || group.depth < best[0].depth) best = [group]
      else if (group.depth === best[0].depth) best.push(group)
    }
    if (best.length === 0) return [[...line]]
    const lines: Piece[][] = [[]]
    for (const piece of line) {
      if (piece !== first && best.some((group) => group.places.has(piece.from))) lines.push([])
      ;(lines.at(-1) as Piece[]).push(piece)
    }
    return lines.flatMap((one) => this.wrap(one))
  }

  join(line: readonly Piece[]): string {
    let joined = ''
    for (const [index, piece] of line.entries()) {
      const before = line[index - 1]
      joined += (before !== undefined && this.#isSpaced(before, piece) ? ' ' : '') + piece.text
    }
    return joined
  }

  #isSpaced(left: Piece, right: Piece): boolean {
    if (right.isComment) return true
    if (['(', '.', '^'].includes(left.text) || [')', ',', '.', '^'].includes(right.text)) return false
    if (right.text === '(' && this.#callNames.has(left.from)) return false
    return !this.#unarySigns.has(left.from)
  }

  #group(depth: number, places: readonly (readonly [number, number])[]): void {
    if (places.length === 0) return
    this.#groups.push({ depth, places: new Map(places) })
    for (const [place, indent] of places) this.#indents.set(place, indent)
  }

  #walk(node: Syntax, depth: number, indent: number): void {
    this.#spans.push({ from: node.from, to: node.to, indent: indent + 1 })
    if (!this.#indents.has(node.from)) this.#indents.set(node.from, indent)
    let inside = indent
    switch (node.kind) {
      case 'unary':
        if (node.operator !== 'not') this.#unarySigns.add(node.from)
        break
      case 'chain':
        this.#group(
          depth,
          node.rest.map((link) => [link.from, indent + 1]),
        )
        this.#walk(node.first, depth + 1, indent)
        for (const link of node.rest) this.#walk(link.operand, depth + 1, indent + 1)
        return
      case 'call': {
        this.#callNames.add(node.name.from)
        const parts = [...node.args, ...node.clauses]
        if (parts.length > 0)
          this.#group(depth, [...parts.map((part) => [part.from, indent + 1] as const), [node.to - 1, indent]])
        inside = indent + 1
        break
      }
      case 'group':
      case 'in':
        inside = indent + 1
        break
      case 'case': {
        const words = [...node.branches.map((branch) => branch.from), ...(node.elseFrom === null ? [] : [node.elseFrom])]
        this.#group(depth, [...words.map((from) => [from, indent + 1] as const), [node.to - 'end'.length, indent]])
        inside = indent + 2
        break
      }
      case 'let':
        this.#group(depth, [[node.body.from, indent]])
        this.#walk(node.bound, depth + 1, indent + 1)
        this.#walk(node.body, depth + 1, indent)
        return
      default:
        break
    }
    for (const child of childrenOf(node)) this.#walk(child, depth + 1, inside)
  }
}
