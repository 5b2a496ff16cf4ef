import { isSameKind, isSameSize, type Measure, measureOf } from './measure.js'
import { symbolCode } from './spellings.js'
import { isPlainSymbol, isSameUnit, type Unit } from './unit.js'

/** How two units stand to each other: the same, of one kind but of another size, of another kind. */
export type Likeness = 'same' | 'scaled' | 'unlike'

/**
 * How the units of two values stand to each other that are added or compared. Plain numbers go with anything: a share or a count may
 * be what a factor without a unit made of them.
 */
export function likenessOf(left: Unit, right: Unit): Likeness {
  if (left.factors.length === 0 || right.factors.length === 0 || isSameUnit(left, right)) return 'same'
  const [own, other] = [measureOf(left), measureOf(right)]
  if (own === null || other === null) return 'same'
  if (!isSameKind(own, other)) return 'unlike'
  const hasSameZero = own.zero === other.zero || left.isDifference === true || right.isDifference === true
  return isSameValue(left, own, right, other) && hasSameZero ? 'same' : 'scaled'
}

/**
 * How the unit of a formula stands to the one declared for its column. A plain number may be declared anything, and what is
 * counted may be left out: kilograms per hive are kilograms.
 */
export function differenceTo(declared: Unit, inferred: Unit): Likeness {
  if (isSameUnit(declared, inferred) || isPlain(inferred)) return 'same'
  const [own, other] = [measureOf(inferred), measureOf(declared)]
  if (own === null || other === null) return 'same'
  const words = wordsOf(own)
  if ([...wordsOf(other)].some((word) => !words.has(word))) return 'same'
  const [rest, said] = [withoutWords(own), withoutWords(other)]
  if (rest.kind.size === 0 && isSameSize(rest.size, 1)) return 'same'
  if (!isSameKind(rest, said)) return 'unlike'
  const hasSameZero = own.zero === other.zero || inferred.isDifference === true
  return isSameValue(inferred, rest, declared, said) && hasSameZero ? 'same' : 'scaled'
}

/** Sizes between two usual units of one kind: what is multiplied by one may be meant as a conversion. */
const STEPS: ReadonlySet<number> = new Set([7, 12, 24, 60, 365, 365.25, 1440, 3600, 86_400, 86_400_000, 3.6, 2.54, 1.8])

/**
 * True for a unit that a number written out may have made another one of: kilograms times 1000 may be grams. Which one then only the
 * column can say.
 */
export function mayBeConverted({ factors, times = 1 }: Unit): boolean {
  const size = Math.abs(times)
  // A share or an angle in radians is a number: times another one it may be anything.
  if (factors.every(({ symbol }) => isPlainSymbol(symbol))) return !isSameSize(size, 1)
  const step = size < 1 ? 1 / size : size
  const tens = Math.log10(step)
  return [...STEPS].some((one) => isSameSize(step, one)) || (tens > 1.5 && Math.abs(tens - Math.round(tens)) < 1e-9)
}

/** Equal in size, also where numbers written out have brought one to the other: `kg * 1000` beside `g`. */
function isSameValue(left: Unit, { size: own }: Measure, right: Unit, { size: other }: Measure): boolean {
  if (isSameSize(own, other)) return true
  return isSameSize(own * (right.times ?? 1), other * (left.times ?? 1))
}

function isPlain({ factors }: Unit): boolean {
  return factors.every(({ symbol }) => isPlainSymbol(symbol) && symbolCode(symbol) !== 'rad')
}

function wordsOf({ kind }: Measure): Set<string> {
  return new Set([...kind.keys()].filter((base) => base.startsWith('word:')))
}

function withoutWords({ kind, size, zero }: Measure): Measure {
  return { kind: new Map([...kind].filter(([base]) => !base.startsWith('word:'))), size, zero }
}
