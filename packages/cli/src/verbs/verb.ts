import type { Command } from 'commander'
import type { Io } from '../shell/index.js'

/** Runs a command line of the tool: the demo types commands as a person would. */
export type RunCommand = (args: readonly string[], io: Io) => Promise<number>

/** What a verb is given to work with. */
export interface VerbTools {
  readonly io: Io
  /** Takes the exit code. */
  readonly finish: (exitCode: number) => void
  readonly run: RunCommand
  /** All verbs. */
  readonly verbs: readonly Verb[]
}

/** The steps of the job, in the order in which people take them. */
export const STEPS = [
  'Without a workbook',
  'Get rows in',
  'Define',
  'Edit',
  'The life of a column',
  'Look',
  'Catch mistakes, understand',
  'History',
  'Hand over',
  'Share',
  'The tool',
] as const

/** A step of the job. */
export type Step = (typeof STEPS)[number]

/** A verb as the list of verbs shows it; the rest of it is loaded when it is used. */
export interface Verb {
  readonly name: string
  /** The step of the job it belongs to, as the help groups verbs. */
  readonly step: Step
  readonly form: string
  readonly summary: string
  readonly load: () => Promise<(tools: VerbTools) => Command>
}
