import { describe, expect, test } from 'vitest'
import { conversionBetween, differenceTo, likenessOf, parseUnit, printUnit, type Unit } from '../../src/units/index.js'

const unit = (text: string): Unit => parseUnit(text) as Unit
/** As it is printed where nobody wrote it. */
const printed = (text: string): string => printUnit({ factors: unit(text).factors })

describe('a unit is read as people and the standard write it', () => {
  test.each([
    ['kg', 'kg'],
    [' kg ', 'kg'],
    ['m/s2', 'm/s²'],
    ['m/s^2', 'm/s²'],
    ['m/s²', 'm/s²'],
    ['m.s-2', 'm/s²'],
    ['m·s⁻²', 'm/s²'],
    ['kg*m/s^2', 'kg·m/s²'],
    ['kg per hive', 'kg/hive'],
    ['EUR/(h·frame)', 'EUR/(h·frame)'],
    ['EUR/h/frame', 'EUR/(h·frame)'],
    ['1/s', '1/s'],
    ['/min', '1/min'],
    ['m^(1/2)', 'm^(1/2)'],
    ['W/(m2·K)', 'W/(m²·K)'],
    ['m/m', ''],
    ['kg·m/kg', 'm'],
    ['°C', '°C'],
    ['mm[Hg]', 'mm[Hg]'],
    ['{hive}', '{hive}'],
    ['€/kg', '€/kg'],
    // What cannot be taken apart is a unit all the same.
    ['brood frames', 'brood frames'],
    ['CO2', 'CO2'],
    ['m//s', 'm//s'],
    ['(kg', '(kg'],
  ])('%s as %s', (text, expected) => {
    expect(printed(text)).toBe(expected)
  })

  test('what is printed reads as the same unit', () => {
    for (const text of ['kg·m/s²', 'm^(1/2)', 'm^(2/3)/s', '1/(h·frame)', 'brood frames', 'l/100km'])
      expect(likenessOf(unit(printed(text)), unit(text))).toBe('same')
  })

  test('an empty text is none', () => {
    expect(parseUnit('')).toBeNull()
    expect(parseUnit('  ')).toBeNull()
  })

  test('a unit stays as it was written', () => {
    expect(printUnit(unit('kg per hive'))).toBe('kg per hive')
  })
})

describe('spellings of one unit', () => {
  test.each([
    ['sec', 's'],
    ['hours', 'h'],
    ['hr', 'h'],
    ['°', 'deg'],
    ['cm²', 'cm2'],
    ['L', 'l'],
    ['litres', 'l'],
    ['Kg', 'kg'],
    ['lbs', 'lb'],
    ['€', 'EUR'],
    ['frame', 'Frames'],
    ['km/h', 'kmh'],
    ['kWh', 'kW.h'],
    ['N', 'kg·m/s²'],
    ['J', 'N·m'],
    ['ha', '10000 m2'],
    ['ml', 'cm³'],
    ['Hz', '1/s'],
  ])('%s and %s', (one, other) => {
    if (other === '10000 m2') expect(conversionBetween(unit(one), unit('m2'))?.times).toBe(10_000)
    else expect(likenessOf(unit(one), unit(other))).toBe('same')
  })
})

describe('units that do not go together', () => {
  test.each([
    ['kg', 'm', 'unlike'],
    ['kg', 'g', 'scaled'],
    ['min', 'h', 'scaled'],
    ['°C', '°F', 'scaled'],
    ['°C', 'K', 'scaled'],
    ['EUR', 'USD', 'unlike'],
    ['EUR/kg', 'EUR/g', 'scaled'],
    ['frames', 'kg', 'unlike'],
    ['frames', 'supers', 'unlike'],
    ['pH', 'kg', 'unlike'],
    ['$', 'EUR', 'unlike'],
    ['pt', 't', 'unlike'],
    ['ha', 'h', 'unlike'],
    ['%', '‰', 'scaled'],
    ['%', 'kg', 'unlike'],
    ['rad', '°', 'scaled'],
  ])('%s and %s are %s', (one, other, likeness) => {
    expect(likenessOf(unit(one), unit(other))).toBe(likeness)
    expect(likenessOf(unit(other), unit(one))).toBe(likeness)
  })
})

describe('a unit declared beside the one that a formula gives', () => {
  test.each([
    ['kg', 'kg', 'same'],
    ['kg', 'g', 'scaled'],
    ['kg', 'm', 'unlike'],
    ['N', 'kg·m/s²', 'same'],
    // Counts may be left out, and named.
    ['kg', 'kg/hive', 'same'],
    ['kg per hive', 'kg', 'same'],
    ['EUR', 'EUR/frames', 'same'],
    ['hives', 'frames', 'same'],
    ['kg', 'm/hive', 'unlike'],
    // Shares and plain numbers may be declared anything, an angle in degrees may not.
    ['points', '%', 'same'],
    ['%', '1', 'same'],
    ['rad', 'deg', 'scaled'],
    ['m', 'deg·m', 'scaled'],
    ['m', 'rad·m', 'same'],
    ['pts', 'kg', 'same'],
  ])('%s beside %s is %s', (declared, inferred, likeness) => {
    expect(differenceTo(unit(declared), unit(inferred))).toBe(likeness)
  })
})

describe('a conversion', () => {
  const convert = (value: number, from: string, to: string): number => {
    const { before, times, by, after } = conversionBetween(unit(from), unit(to)) as NonNullable<
      ReturnType<typeof conversionBetween>
    >
    return ((value + before) * times) / by + after
  }

  test.each([
    [1.5, 'kg', 'g', 1500],
    [250, 'g', 'kg', 0.25],
    [90, 'km/h', 'm/s', 25],
    [90, 'min', 'h', 1.5],
    [2, 'd', 'h', 48],
    [1, 'lb', 'kg', 0.45359237],
    [1, 'in', 'cm', 2.54],
    [1, 'mile', 'km', 1.609344],
    [3, 'kWh', 'J', 10_800_000],
    [20, '°C', '°F', 68],
    [68, '°F', '°C', 20],
    [-40, '°C', '°F', -40],
    [20, '°C', 'K', 293.15],
    [293.15, 'K', '°C', 20],
    [12, 'EUR/kg', 'EUR/g', 0.012],
    [50, '%', '‰', 500],
    [3, 'l', 'm³', 0.003],
    [1, 'ha', 'm²', 10_000],
    [180, '°', 'rad', Math.PI],
  ])('%d %s in %s', (value, from, to, expected) => {
    expect(convert(value, from, to)).toBe(expected)
  })

  test('of a difference of temperatures has no zero', () => {
    const difference: Unit = { ...unit('°C'), isDifference: true }
    expect(conversionBetween(difference, unit('°F'))).toEqual({ before: 0, times: 1.8, by: 1, after: 0 })
  })

  test.each([
    ['kg', 'm'],
    ['EUR', 'USD'],
    ['frames', 'hives'],
    ['pH', 'mol/l'],
  ])('there is none of %s to %s', (from, to) => {
    expect(conversionBetween(unit(from), unit(to))).toBeNull()
  })
})
