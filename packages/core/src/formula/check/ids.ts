/** Identity of a column in its workbook; never reused. */
export type ColumnId = number & { readonly brand: 'ColumnId' }

/** Identity of a link in its workbook; never reused. */
export type LinkId = number & { readonly brand: 'LinkId' }
