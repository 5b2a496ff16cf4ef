import { isOfCells, operationsPhrase } from '@mellow-abacus/host'
import { SessionFault } from '@mellow-abacus/session'
import { definesFunction, type Finding, isSameName, type Operation, parseDefinition, parseFunction } from 'mellow-abacus'
import { z } from 'zod'
import { toldFinding } from './told.js'
import { type Allowed, type AtWork, type Tool, ToolFault, tool } from './tool.js'

const preview = z.string().describe('what preview has called it, such as "preview-1"')

/** Tools that change something, and the one that says before what would change. */
export const CHANGING_TOOLS: readonly Tool[] = [
  tool({
    name: 'preview',
    title: 'Preview a change',
    description:
      'What a change would do, without doing it: cells that would differ, sample rows with old and new values, findings. Give definitions of calculated columns, or operations. Every change is previewed first; the answer says how it is then done.',
    input: {
      definitions: z
        .array(z.string())
        .optional()
        .describe(
          'such as "inspections.infestation = 100 * mites per bees_sampled"; a column that is there gets the formula. A function of the workbook is defined like "per_hundred(part, whole) = 100 * part per whole"',
        ),
      operations: z
        .array(z.looseObject({ op: z.string() }))
        .optional()
        .describe(
          'such as {"op": "set-cells", "table": "hives", "cells": [{"row": 3, "column": "frames", "value": 10}]}, or insert-rows, remove-rows, add-column, change-column, rename-column, set-tally, set-rule, set-value, set-function; all are done or none',
        ),
    },
    run: async ({ definitions = [], operations = [] }, at) => {
      const all = [...(await definitionsOf(definitions, at)), ...(operations as unknown as Operation[])]
      if (all.length === 0) throw new ToolFault('Give definitions or operations.')
      const kind = kindOf(all)
      if (!at.allowed.has(kind)) {
        const says = `Changes of this kind are not allowed here: the analyst may start mellow mcp with --allow ${kind}.`
        if (operations.length > 0 || definitions.some(definesFunction)) throw new ToolFault(says)
        return { says, data: { columns: await triedOut(definitions, at) } }
      }
      const { revision } = await at.session.facts()
      const { change, columns } = await at.session.preview(all)
      const name = at.previews.keep({ operations: all, revision })
      const says = `Nothing is done yet. Ask the analyst; then call ${kind} with the preview "${name}".`
      const effects = columns.map(({ findings, ...one }) => ({ ...one, findings: findings.map(toldFinding) }))
      return { says, data: { what: operationsPhrase(all), ...toldChange(change), columns: effects } }
    },
  }),
  doing('define', 'Define what was previewed', 'Does a change of what is defined that preview has shown'),
  doing('edit', 'Edit what was previewed', 'Does a change of cells and rows that preview has shown'),
  tool({
    name: 'undo',
    title: 'Take back the last step',
    description: 'Takes back the last step of this assistant, as long as nobody has changed since what it touched.',
    input: {},
    needs: 'any',
    run: async (_, { session }) => {
      const change = await session.undo()
      return change === null
        ? { says: 'There is nothing of this assistant to take back.', data: {} }
        : { says: 'Taken back.', data: { revision: change.revision, ...toldChange(change) } }
    },
  }),
]

/** A tool that does what was previewed. */
function doing(kind: Allowed, title: string, does: string): Tool {
  return tool({
    name: kind,
    title,
    description: `${does}, as one step, signed with the name of this assistant; undo takes it back. It is refused where the workbook has changed since the preview.`,
    input: { preview },
    needs: kind,
    run: async ({ preview: name }, at) => {
      const { session, previews } = at
      const previewed = previews.of(name)
      if (previewed === undefined) throw new ToolFault(`There is no ${name}, or it was done. Call preview first.`)
      const { operations, revision } = previewed
      const own = kindOf(operations)
      if (own !== kind) throw new ToolFault(`${name} is done by ${own}.`)
      try {
        const change = await session.apply(operations, { expects: revision, seen: revision, returns: 'minimal' })
        previews.forget(name)
        const data = { done: operationsPhrase(operations), revision: change.revision, ...toldChange(change) }
        return { says: 'Done, as one step; undo takes it back.', data }
      } catch (error) {
        const now = error instanceof SessionFault ? (await session.facts()).revision : revision
        if (now === revision) throw error
        previews.forget(name)
        throw new ToolFault(
          `The workbook has changed since ${name}: it was at revision ${revision}, and is at ${now}. Preview again.`,
        )
      }
    },
  })
}

/** What a change has to be allowed as. */
function kindOf(operations: readonly Operation[]): Allowed {
  return operations.every(isOfCells) ? 'edit' : 'define'
}

/** What definitions would give, each on its own, for one who may define nothing. */
function triedOut(definitions: readonly string[], { session }: AtWork): Promise<object[]> {
  return Promise.all(
    definitions.map(async (text) => {
      const { table, name, formula } = definitionOf(text)
      const { findings, ...preview } = await session.language.preview(table, { name, formula })
      return { table, column: name, ...preview, findings: findings.map((one) => toldFinding(one as Finding)) }
    }),
  )
}

function definitionOf(text: string): { readonly table: string; readonly name: string; readonly formula: string } {
  const read = parseDefinition(text)
  if ('findings' in read) throw new ToolFault(read.findings.map(({ message }) => message).join(' '))
  const { table, name, formula } = read
  if (table === undefined) throw new ToolFault(`Say for which table: "table.${name} = ${formula}".`)
  return { table, name, formula }
}

/** The definition of a function of the workbook. */
function functionOf(text: string): Operation {
  const read = parseFunction(text)
  if ('findings' in read) throw new ToolFault(read.findings.map(({ message }) => message).join(' '))
  const { name, parameters, formula } = read
  return { op: 'set-function', name, parameters, formula }
}

/** Definitions as operations: of a column that is there a change of its formula. */
async function definitionsOf(definitions: readonly string[], { session }: AtWork): Promise<Operation[]> {
  if (definitions.length === 0) return []
  const { tables } = await session.facts()
  return definitions.map((text): Operation => {
    if (definesFunction(text)) return functionOf(text)
    const { table, name, formula } = definitionOf(text)
    const found = tables.find((one) => isSameName(one.name, table))?.columns.some((one) => isSameName(one.name, name))
    return found === true
      ? { op: 'change-column', table, column: name, set: { formula } }
      : { op: 'add-column', table, column: { name, formula } }
  })
}

/** A change as an assistant needs it: what there is none of is left out. */
function toldChange(change: Awaited<ReturnType<AtWork['session']['preview']>>['change']): object {
  const { recalculated, changed, inserted, removed, units, findings } = change
  const told = {
    recalculated,
    changed,
    inserted: inserted.map(({ table, ids }) => ({ table, rows: ids.length })),
    removed: removed.map(({ table, ids }) => ({ table, rows: ids.length })),
    inAnotherUnit: units,
    newFindings: findings.added.map(toldFinding),
    goneFindings: findings.removed.map(({ code, table, column }) => ({ code, table, column })),
  }
  return Object.fromEntries(Object.entries(told).filter(([, list]) => list.length > 0))
}
