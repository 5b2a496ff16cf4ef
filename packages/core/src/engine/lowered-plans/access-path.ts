/** How a formula gets at what other rows decide, and so what an edit of those rows touches. */
export type AccessPath =
  /** The row that links lead to. */
  | { readonly kind: 'link' }
  /** The only row of a named value or tally. */
  | { readonly kind: 'single' }
  /** The row itself, seen from among the rows read for it. */
  | { readonly kind: 'this-row' }
  /** A result a group; readers look theirs up. Sums and counts follow single rows, others look at their group again. */
  | {
      readonly kind: 'groups'
      readonly readers: 'whole' | 'own' | 'linked' | 'keys'
      readonly followsRows: boolean
    }
  /** Rows within bounds, found by bisection of a sorted index; in groups of equal keys where there are any. */
  | { readonly kind: 'range'; readonly grouped: boolean; readonly looksAtRows: boolean }
  /** Row by row for each row: all of a table, or those of a group, of a link, or below. */
  | { readonly kind: 'scan'; readonly over: 'all' | 'keys' | 'own' | 'linked' | 'below' }
  /** The rows next to it in an order; `reach` of them on either side, or the whole group for null. */
  | { readonly kind: 'order'; readonly reach: number | null; readonly grouped: boolean; readonly sorted: boolean }
  /** An earlier row of a ring of columns, computed row by row. */
  | { readonly kind: 'ring' }
