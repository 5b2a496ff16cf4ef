import type { Command } from 'commander'
import type { Io } from '../terminal/io.js'

/** Runs a command line of the tool: the demo types commands as a person would. */
export type RunCommand = (args: readonly string[], io: Io) => Promise<number>

/** What a verb is given to work with. */
export interface VerbTools {
  readonly io: Io
  /** Takes the exit code. */
  readonly finish: (exitCode: number) => void
  readonly run: RunCommand
}

/** A verb as the list of verbs shows it; the rest of it is loaded when it is used. */
export interface Verb {
  readonly name: string
  readonly form: string
  readonly summary: string
  readonly load: () => Promise<(tools: VerbTools) => Command>
}

/** Every verb, in the order of the help. */
export const VERBS: readonly Verb[] = [
  {
    name: 'calc',
    form: '<file> [definitions...]',
    summary: 'add calculated columns to a file',
    load: async () => (await import('./calc/command.js')).calcCommand,
  },
  {
    name: 'explain',
    form: '<formula>',
    summary: 'say in plain English what a formula does',
    load: async () => (await import('./explain/command.js')).explainCommand,
  },
  {
    name: 'functions',
    form: '[words...]',
    summary: 'list and search the functions of formulas',
    load: async () => (await import('./functions/command.js')).functionsCommand,
  },
  {
    name: 'demo',
    form: '[folder]',
    summary: 'write the demo tables and walk through them',
    load: async () => (await import('./demo/command.js')).demoCommand,
  },
]
