import type { DefinedReport, Definitions } from 'mellow-abacus/model'
import { NoForm } from '../dialects/index.js'

/** True for the address of a report: `report:name`. */
export const isReportAddress = (address: string): boolean => /^report:/i.test(address)

/** Those for which a test does not hold, and those for which it does. */
export function partedBy<One>(all: readonly One[], test: (one: One) => boolean): [One[], One[]] {
  return [all.filter((one) => !test(one)), all.filter(test)]
}

/**
 * The report that an address is of.
 *
 * @throws NoForm for an address of none
 */
export function reportNamed({ reports }: Definitions, address: string): DefinedReport {
  const found = reports.find(({ name }) => `report:${name}`.toLowerCase() === address.toLowerCase())
  if (found === undefined) throw new NoForm(`${address} is no report of the workbook, so it cannot be left out.`)
  return found
}
