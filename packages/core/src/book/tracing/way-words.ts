import type { Way } from '../../engine/index.js'

/** What an edit of the rows read touches, by the way they are got at. */
export function wayWords(way: Way): string {
  switch (way.kind) {
    case 'link':
      return 'a link: an edit reaches the rows that lead to it'
    case 'single':
      return 'one value for all rows'
    case 'this-row':
      return 'the row itself'
    case 'groups': {
      const kept = way.followsRows ? 'kept up to date row by row' : 'computed again from the rows of the group'
      const readers = {
        whole: 'one result for the whole table',
        own: 'one result a group',
        linked: 'one result a linked row',
        keys: 'one result for each key that occurs, found by equality',
      }
      return `${readers[way.readers]}, ${kept}`
    }
    case 'range':
      return `a sorted index${way.grouped ? ' within equal keys' : ''}, ${way.looksAtRows ? 'then row by row within the range' : 'counted between two places'}`
    case 'scan': {
      const over = {
        all: 'every row of the table',
        keys: 'the rows with equal keys',
        own: 'the rows of the group',
        linked: 'the linked rows',
        below: 'the rows below',
      }
      return `for each row, ${over[way.over]} one after the other`
    }
    case 'order': {
      const where = way.grouped ? 'its group' : 'the table'
      const order = way.sorted ? `${where} in its order` : way.grouped ? `${where} in row order` : 'the row order'
      return way.reach === null ? `${order}, computed again as a whole` : `${order}, at most ${way.reach} rows away`
    }
    case 'ring':
      return 'row by row, from the first row touched'
  }
}
