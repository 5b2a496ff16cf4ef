/**
 * How people write units, and the code of the Unified Code for Units of Measure (UCUM 2.1, ucum.org) for each. Only what UCUM does
 * not read itself, or reads as something that nobody means: `ha` would be a hundred years.
 */
const CODES: Readonly<Record<string, string>> = {
  '°': 'deg',
  degree: 'deg',
  degrees: 'deg',
  radian: 'rad',
  radians: 'rad',
  '′': "'",
  '″': "''",
  '°C': 'Cel',
  '℃': 'Cel',
  degC: 'Cel',
  celsius: 'Cel',
  Celsius: 'Cel',
  '°F': '[degF]',
  '℉': '[degF]',
  degF: '[degF]',
  fahrenheit: '[degF]',
  Fahrenheit: '[degF]',
  '°K': 'K',
  kelvin: 'K',
  '‰': '10*-3',
  percent: '%',
  pct: '%',
  ppm: '[ppm]',
  ppb: '[ppb]',
  sec: 's',
  secs: 's',
  second: 's',
  seconds: 's',
  mins: 'min',
  minute: 'min',
  minutes: 'min',
  Min: 'min',
  hr: 'h',
  hrs: 'h',
  hour: 'h',
  hours: 'h',
  day: 'd',
  days: 'd',
  week: 'wk',
  weeks: 'wk',
  month: 'mo',
  months: 'mo',
  year: 'a',
  years: 'a',
  yr: 'a',
  yrs: 'a',
  kilo: 'kg',
  kilos: 'kg',
  kilogram: 'kg',
  kilograms: 'kg',
  kgs: 'kg',
  Kg: 'kg',
  KG: 'kg',
  gram: 'g',
  grams: 'g',
  gr: 'g',
  µg: 'ug',
  μg: 'ug',
  tonne: 't',
  tonnes: 't',
  ton: 't',
  lb: '[lb_av]',
  lbs: '[lb_av]',
  oz: '[oz_av]',
  metre: 'm',
  metres: 'm',
  meter: 'm',
  meters: 'm',
  Km: 'km',
  KM: 'km',
  µm: 'um',
  μm: 'um',
  in: '[in_i]',
  inch: '[in_i]',
  inches: '[in_i]',
  ft: '[ft_i]',
  foot: '[ft_i]',
  feet: '[ft_i]',
  yd: '[yd_i]',
  mi: '[mi_i]',
  mile: '[mi_i]',
  miles: '[mi_i]',
  mph: '[mi_i]/h',
  kmh: 'km/h',
  kph: 'km/h',
  knot: '[kn_i]',
  knots: '[kn_i]',
  ha: 'har',
  hectare: 'har',
  hectares: 'har',
  acre: '[acr_us]',
  acres: '[acr_us]',
  sqm: 'm2',
  qm: 'm2',
  cc: 'cm3',
  ccm: 'cm3',
  cbm: 'm3',
  L: 'l',
  ltr: 'l',
  litre: 'l',
  litres: 'l',
  liter: 'l',
  liters: 'l',
  ML: 'Ml',
  mL: 'ml',
  µl: 'ul',
  µL: 'ul',
  kWh: 'kW.h',
  MWh: 'MW.h',
  Wh: 'W.h',
  Ah: 'A.h',
  mAh: 'mA.h',
  psi: '[psi]',
  mmHg: 'mm[Hg]',
  rpm: '/min',
  pH: '[pH]',
  Ω: 'Ohm',
  ohm: 'Ohm',
  kΩ: 'kOhm',
  Å: 'Ao',
  µs: 'us',
  μs: 'us',
  '€': 'EUR',
  euro: 'EUR',
  euros: 'EUR',
  '£': 'GBP',
}

/** Words that UCUM reads as a prefix before a unit, and people as something else: typographic points, hours of the day. */
const NOT_CODES: ReadonlySet<string> = new Set(['pt', 'pts', 'am', 'pm', 'AM', 'PM', 'as', 'at', 'no', 'sh'])

const known = new Map<string, string>()

/**
 * What a symbol stands for: two symbols with the same code are the same unit. Its UCUM code where it is spelled otherwise; of a word
 * that is no unit, that word in small letters and without the s of a plural, so that `frame` and `Frames` are one.
 */
export function symbolCode(symbol: string): string {
  const found = known.get(symbol)
  if (found !== undefined) return found
  const code = Object.hasOwn(CODES, symbol) ? (CODES[symbol] as string) : foldedWord(symbol)
  known.set(symbol, code)
  return code
}

/** True for a symbol that is never looked up as a UCUM code. */
export function isWord(code: string): boolean {
  return NOT_CODES.has(code)
}

/** Words of four letters and more name things; shorter ones may be codes, in which case capitals matter. */
function foldedWord(symbol: string): string {
  if (!/^\p{L}[\p{L} _-]{3,}$/u.test(symbol)) return symbol
  return symbol.toLowerCase().replace(/(?<=[^s])s$/, '')
}
