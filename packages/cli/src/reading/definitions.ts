import { readFileSync } from 'node:fs'
import { type Finding, type LinkDefinition, parseDefinition, parseLink, splitDefinitions } from 'mellow-abacus'
import { readReason, UsageFault } from '../shell/index.js'

/** A definition of the command line or of a formulas file, with where it stands. */
export interface GivenDefinition {
  /** The table it is for, where it is named; the main file's otherwise. */
  readonly table?: string
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
  return takeApart(given)
}

function takeApart(given: readonly { readonly text: string; readonly where: string }[]): {
  definitions: GivenDefinition[]
  faults: DefinitionFault[]
} {
  const definitions: GivenDefinition[] = []
  const faults: DefinitionFault[] = []
  for (const { text, where } of given) {
    const parsed = parseDefinition(text)
    if ('findings' in parsed) for (const finding of parsed.findings) faults.push({ finding, where, text })
    else definitions.push({ ...parsed, where })
  }
  return { definitions, faults }
}

/** Takes definitions of one option apart, such as those of `--value`. */
export function optionDefinitions(
  option: string,
  texts: readonly string[],
): { definitions: GivenDefinition[]; faults: DefinitionFault[] } {
  return takeApart(texts.map((text) => ({ text, where: option })))
}

/** A link of the command line. */
export interface GivenLink {
  readonly link: LinkDefinition
  readonly where: string
}

/** Takes the links of the command line apart. */
export function givenLinks(texts: readonly string[]): { links: GivenLink[]; faults: DefinitionFault[] } {
  const links: GivenLink[] = []
  const faults: DefinitionFault[] = []
  for (const text of texts) {
    const parsed = parseLink(text)
    if ('findings' in parsed) for (const finding of parsed.findings) faults.push({ finding, where: '--link', text })
    else links.push({ link: parsed, where: '--link' })
  }
  return { links, faults }
}

function readText(file: string): string {
  try {
    return readFileSync(file, 'utf8').replace(/^\ufeff/, '')
  } catch (error) {
    throw new UsageFault(`cannot read ${file}: ${readReason(error)}`)
  }
}
