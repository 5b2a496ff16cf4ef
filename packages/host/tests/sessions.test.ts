import { HOMES } from './helpers/homes.js'
import { sessionSuite } from './helpers/session-suite.js'

for (const [where, begin] of HOMES) sessionSuite(where, begin)
