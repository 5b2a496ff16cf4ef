import { type ExactDecimal, exactParts, overCommonScale, roundRatio } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numberResults, putNumber } from '../kernel-rows.js'
import { eachRow, numberAt } from './row-values.js'

/** Largest size at which products and sums of whole numbers stay exact without a look at each. */
const SMALL = 2 ** 20

/**
 * The kernel of `weighted` and `points_of`. Amounts count as the exact decimals written, values as the exact binary64
 * numbers; the result is the exact ratio rounded once:
 * weights, Σ present weight·value × Σ weights ÷ Σ present weights; points, Σ present value ÷ Σ present maximum.
 */
export function ratedKernel(kind: 'weights' | 'points'): (call: KernelCall) => void {
  return (call) => {
    const results = numberResults(call)
    const { digits: amounts, scale } = overCommonScale(call.amounts as ExactDecimal[])
    const ten = 10n ** BigInt(scale)
    const all = amounts.reduce((sum, amount) => sum + amount, 0n)
    const small = amounts.every((amount) => amount < BigInt(SMALL) && amount > -BigInt(SMALL)) ? amounts.map(Number) : null
    const values = new Float64Array(amounts.length)
    const isPresent = new Uint8Array(amounts.length)
    eachRow(
      call,
      () => isPresent.fill(0),
      (vector, row, index, isBlank) => {
        isPresent[index] = 1
        values[index] = numberAt(vector, row, isBlank)
      },
      (row) => {
        let present = 0n
        let numerator = 0
        let isSmall = small !== null && amounts.length < 256
        for (let index = 0; index < amounts.length; index++) {
          if (isPresent[index] === 0) continue
          present += amounts[index] as bigint
          const value = values[index] as number
          isSmall &&= Number.isInteger(value) && Math.abs(value) < SMALL
          numerator += value * (kind === 'points' ? 1 : ((small?.[index] as number) ?? 0))
        }
        if (present === 0n) return failRow(call, row, 'division-by-zero')
        // Whole values and whole weights over one power of ten: one division of exact numbers rounds once.
        if (isSmall && kind === 'weights' && present === all && scale <= 15) results[row] = numerator / Number(ten) + 0
        else if (isSmall && kind === 'points' && scale === 0) results[row] = numerator / Number(present) + 0
        else putNumber(call, results, row, exactly(kind, values, isPresent, amounts, { all, present, ten }))
      },
    )
  }
}

function exactly(
  kind: 'weights' | 'points',
  values: Float64Array,
  isPresent: Uint8Array,
  amounts: readonly bigint[],
  { all, present, ten }: { all: bigint; present: bigint; ten: bigint },
): number {
  let sum = 0n
  for (let index = 0; index < amounts.length; index++) {
    if (isPresent[index] === 0) continue
    const { mantissa, exponent } = exactParts(values[index] as number)
    const part = mantissa << BigInt(exponent + 1074)
    sum += kind === 'points' ? part : part * (amounts[index] as bigint)
  }
  return kind === 'points' ? roundRatio(sum * ten, present, -1074) : roundRatio(sum * all, present * ten, -1074)
}
