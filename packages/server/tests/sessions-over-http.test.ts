import { connect } from '@mellow-abacus/session'
import { sessionSuite } from '../../host/tests/helpers/session-suite.js'
import { Served } from './helpers/serve.js'

sessionSuite('at a server', async () => {
  const served = await Served.begin()
  return {
    open: ({ role = 'read', author = '', groups = [] }) =>
      connect(`${served.url}/books/honey`, { token: served.token(author, role, { groups }) }),
    close: () => served.close(),
  }
})
