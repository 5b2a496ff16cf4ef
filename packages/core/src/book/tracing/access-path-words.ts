import type { AccessPath } from '../../engine/index.js'

/** What an edit of the rows read touches, by their access path. */
export function accessPathWords(path: AccessPath): string {
  switch (path.kind) {
    case 'link':
      return 'a link: an edit reaches the rows that lead to it'
    case 'single':
      return 'one value for all rows'
    case 'this-row':
      return 'the row itself'
    case 'groups': {
      const kept = path.followsRows ? 'kept up to date row by row' : 'computed again from the rows of the group'
      const readers = {
        whole: 'one result for the whole table',
        own: 'one result a group',
        linked: 'one result a linked row',
        keys: 'one result for each key that occurs, found by equality',
      }
      return `${readers[path.readers]}, ${kept}`
    }
    case 'range':
      return `a sorted index${path.grouped ? ' within equal keys' : ''}, ${path.looksAtRows ? 'then row by row within the range' : 'counted between two places'}`
    case 'scan': {
      const over = {
        all: 'every row of the table',
        keys: 'the rows with equal keys',
        own: 'the rows of the group',
        linked: 'the linked rows',
        below: 'the rows below',
      }
      return `for each row, ${over[path.over]} one after the other`
    }
    case 'order': {
      const where = path.grouped ? 'its group' : 'the table'
      const order = path.sorted ? `${where} in its order` : path.grouped ? `${where} in row order` : 'the row order'
      return path.reach === null ? `${order}, computed again as a whole` : `${order}, at most ${path.reach} rows away`
    }
    case 'ring':
      return 'row by row, from the first row touched'
  }
}
