import type { BookSession } from '@mellow-abacus/session'
import { HttpProblem } from '../http/index.js'

/**
 * Refuses formulas that would look at more pairs of rows than is allowed.
 *
 * @throws HttpProblem 422 with the number of pairs
 */
export async function refuseCostly(
  session: BookSession,
  table: string,
  formulas: readonly string[],
  most: number,
): Promise<void> {
  // Only what calls something can look at other rows.
  for (const formula of formulas.filter((one) => one.includes('('))) {
    for (const { code, parameters, message } of await session.language.findings(table, formula)) {
      if (code !== 'costly-scan') continue
      const cost = Number(String(parameters.pairs).replace(/[^\d.]/g, ''))
      if (cost > most) throw new HttpProblem({ status: 422, code: 'too-costly', detail: message, cost })
    }
  }
}
