import { readFileSync } from 'node:fs'
import { type Finding, parseDefinition, splitDefinitions } from 'mellow-abacus'
import { readReason } from '../../input/read-reason.js'
import { UsageFault } from '../../terminal/usage.js'

/** A definition of the command line or of a formulas file, with where it stands. */
export interface GivenDefinition {
  readonly name: string
  readonly formula: string
  readonly where: string
}

/** A definition that could not be taken apart. */
export interface DefinitionFault {
  readonly finding: Finding
  readonly where: string
  readonly text: string
}

/** Takes all definitions apart: those of formulas files first, then those of the command line. */
export function givenDefinitions(
  files: readonly string[],
  texts: readonly string[],
): { definitions: GivenDefinition[]; faults: DefinitionFault[] } {
  const given = [
    ...files.flatMap((file) => splitDefinitions(readText(file)).map(({ text, line }) => ({ text, where: `${file}:${line}` }))),
    ...texts.map((text, index) => ({ text, where: `definition ${index + 1}` })),
  ]
  const definitions: GivenDefinition[] = []
  const faults: DefinitionFault[] = []
  for (const { text, where } of given) {
    const parsed = parseDefinition(text)
    if ('findings' in parsed) for (const finding of parsed.findings) faults.push({ finding, where, text })
    else definitions.push({ name: parsed.name, formula: parsed.formula, where })
  }
  return { definitions, faults }
}

function readText(file: string): string {
  try {
    return readFileSync(file, 'utf8').replace(/^\ufeff/, '')
  } catch (error) {
    throw new UsageFault(`cannot read ${file}: ${readReason(error)}`)
  }
}
