/// <reference path="./ucum-lhc.d.ts" />

import { moduleOfNode } from '../values/index.js'

// The Unified Code for Units of Measure with its 300 units and 24 prefixes is a quarter of a megabyte: it is loaded when two units
// that are spelled differently first meet. In Node by itself, in browsers by `loadUnits`.

/** A unit as the package knows it. */
interface KnownUnit {
  /** What it is in base units: 1000 for `kg`, whose base is the gram. */
  readonly magnitude_: number
  /** Powers of length, time, mass, angle, temperature, charge and luminous intensity; null for a plain number. */
  readonly dim_: { readonly dimVec_: readonly number[] | null } | null
  /** Name of the function that converts a unit with a zero of its own or a logarithm; null for all others. */
  readonly cnv_: string | null
}

/** What of the package is used. */
interface UnitTables {
  getSpecifiedUnit(
    code: string,
    purpose: 'validate',
    suggests: boolean,
  ): { readonly unit: KnownUnit | null; readonly retMsg: readonly string[] }
  convertUnitTo(from: string, value: number, to: string): { readonly toVal: number | null }
}

interface UnitPackage {
  readonly UcumLhcUtils: { getInstance(): UnitTables }
}

let loaded: UnitPackage | null = null

/**
 * Loads what knows units of measure, so that `g` and `kg` are known to be of one kind. In a browser it has to be awaited once, before
 * a workbook with units is opened; until then units are told apart by their spelling only, and nothing is said of them. In Node
 * it need not be called.
 */
export async function loadUnits(): Promise<void> {
  const found = (await import('@lhncbc/ucum-lhc')) as Partial<UnitPackage> & { readonly default?: UnitPackage }
  // A module of the older kind comes as the default of the newer one, depending on what bundles it.
  loaded ??= found.UcumLhcUtils === undefined ? (found.default as UnitPackage) : (found as UnitPackage)
}

/** What knows units, or null while it is not loaded. */
export function unitTables(): UnitTables | null {
  loaded ??= moduleOfNode('@lhncbc/ucum-lhc') as UnitPackage | null
  return loaded?.UcumLhcUtils.getInstance() ?? null
}
