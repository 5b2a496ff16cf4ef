import type { BookSession } from '@mellow-abacus/session'
import { type ZodRawShape, z } from 'zod'
import type { Previews } from './previews.js'

/** What a change needs to be allowed: to define columns and what else there is, or to edit cells and rows. */
export type Allowed = 'define' | 'edit'

/** What a tool works with. */
export interface AtWork {
  readonly session: BookSession
  readonly previews: Previews
  readonly allowed: ReadonlySet<Allowed>
}

/** Something that an assistant can ask for. */
export interface Tool<Shape extends ZodRawShape = ZodRawShape> {
  readonly name: string
  /** What it does, for people who watch. */
  readonly title: string
  /** What it does and gives, for the assistant. */
  readonly description: string
  readonly input: Shape
  /** What must be allowed, or that anything must; without it the tool only looks. */
  readonly needs?: Allowed | 'any'
  /** @throws SessionFault for what the workbook refuses, ToolFault for what is asked wrongly */
  run(input: z.infer<z.ZodObject<Shape>>, at: AtWork): Promise<Answer>
}

/** What a tool answers. */
interface Answer {
  /** Plain data of the workbook. */
  readonly data: unknown
  /** What the tool itself says, such as what is to be done next; nothing of the workbook stands in it. */
  readonly says?: string
}

/** Something that is asked wrongly, in words for the assistant. */
export class ToolFault extends Error {}

/** Makes a tool, with the type of its input. */
export function tool<Shape extends ZodRawShape>(made: Tool<Shape>): Tool {
  return made as unknown as Tool
}

/** Makes a tool that gives what it looks at, and says nothing of its own. */
export function looking<Shape extends ZodRawShape>(
  made: Omit<Tool<Shape>, 'run'> & { readonly run: (...of: Parameters<Tool<Shape>['run']>) => Promise<unknown> },
): Tool {
  return tool<Shape>({ ...made, run: async (input, at) => ({ data: await made.run(input, at) }) })
}

/** Name of a table or a column. */
export const nameOf = (what: string): z.ZodString => z.string().min(1).describe(what)
