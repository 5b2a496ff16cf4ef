/** Codes of ISO 4217, and signs that stand for a currency without saying whose. */
const SIGNS: ReadonlySet<string> = new Set(['$', '¥', '₹', '₽', '₩', '₺', '₴', '₫', 'kr', 'Fr', 'zł', 'Kč'])

let codes: ReadonlySet<string> | null = null

/** True for the code or sign of a currency. */
export function isCurrency(code: string): boolean {
  if (SIGNS.has(code)) return true
  if (!/^[A-Z]{3}$/.test(code)) return false
  codes ??= new Set(Intl.supportedValuesOf('currency'))
  return codes.has(code)
}
