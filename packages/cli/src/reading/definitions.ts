import { readFileSync } from 'node:fs'
import {
  definesFunction,
  type Finding,
  type LinkDefinition,
  type Operation,
  parseDefinition,
  parseFunction,
  parseLink,
  splitDefinitions,
} from 'mellow-abacus'
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

/** A function of the workbook that is defined on the command line or in a formulas file. */
export type GivenFunction = Extract<Operation, { readonly op: 'set-function' }>

/** Definitions that were taken apart: of columns, and of functions among them. */
export interface GivenDefinitions {
  readonly definitions: GivenDefinition[]
  readonly functions: GivenFunction[]
  readonly faults: DefinitionFault[]
}

/** Takes all definitions apart: those of formulas files first, then those of the command line. */
export function givenDefinitions(files: readonly string[], texts: readonly string[]): GivenDefinitions {
  const given = [
    ...files.flatMap((file) => splitDefinitions(readText(file)).map(({ text, line }) => ({ text, where: `${file}:${line}` }))),
    ...texts.map((text, index) => ({ text, where: `definition ${index + 1}` })),
  ]
  return takeApart(given)
}

/** Takes definitions apart that came from elsewhere than the command line. */
export function definitionsFrom(where: string, texts: readonly string[]): GivenDefinitions {
  return takeApart(texts.map((text) => ({ text, where })))
}

/** Takes the definition of a function apart: `name(parameter, parameter: type) = formula`. */
export function functionOf(text: string, where: string): GivenFunction | DefinitionFault[] {
  const parsed = parseFunction(text)
  if ('findings' in parsed) return parsed.findings.map((finding) => ({ finding, where, text }))
  const { name, parameters, formula } = parsed
  return { op: 'set-function', name, parameters: [...parameters], formula }
}

function takeApart(given: readonly { readonly text: string; readonly where: string }[]): GivenDefinitions {
  const definitions: GivenDefinition[] = []
  const functions: GivenFunction[] = []
  const faults: DefinitionFault[] = []
  for (const { text, where } of given) {
    if (definesFunction(text)) {
      const read = functionOf(text, where)
      if (Array.isArray(read)) faults.push(...read)
      else functions.push(read)
      continue
    }
    const own = optionDefinitions(where, [text])
    definitions.push(...own.definitions)
    faults.push(...own.faults)
  }
  return { definitions, functions, faults }
}

/** Takes definitions of one option apart, such as those of `--value`. */
export function optionDefinitions(
  option: string,
  texts: readonly string[],
): { definitions: GivenDefinition[]; faults: DefinitionFault[] } {
  const definitions: GivenDefinition[] = []
  const faults: DefinitionFault[] = []
  for (const text of texts) {
    const parsed = parseDefinition(text)
    if ('findings' in parsed) for (const finding of parsed.findings) faults.push({ finding, where: option, text })
    else definitions.push({ ...parsed, where: option })
  }
  return { definitions, faults }
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
