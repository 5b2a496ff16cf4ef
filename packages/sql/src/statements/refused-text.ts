import { counted } from 'mellow-abacus'
import type { Dialect } from '../dialects/index.js'
import { isReportAddress } from '../reports/index.js'
import type { RefusedFormula } from './model-as-sql.js'

/** What is refused: how much, what follows from it, and a line each with its reason under it. */
export function refusedText(refused: readonly RefusedFormula[], { title }: Dialect, follows = ''): string {
  const isReport = ({ address, formula }: RefusedFormula): boolean => formula === '' && isReportAddress(address)
  const formulas = refused.filter(({ formula }) => formula !== '').length
  const reports = refused.filter(isReport).length
  const others = refused.length - formulas - reports
  const without = [...(formulas > 0 ? [counted(formulas, 'formula')] : []), ...(reports > 0 ? [counted(reports, 'report')] : [])]
  const parts = [
    ...(without.length > 0 ? [`${without.join(' and ')} without a form`] : []),
    ...(others > 0 ? [`${counted(others, 'name')} that cannot be published`] : []),
  ]
  const lines = refused.map(
    ({ address, formula, reason }) => `  ${address}${formula === '' ? '' : ` = ${formula}`}\n    ${reason}`,
  )
  return `${parts.join(' and ')} in ${title}.${follows}\n${lines.join('\n')}`
}
