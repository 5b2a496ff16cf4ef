import { basename } from 'node:path'
import {
  type ApproximateColumn,
  DUCKDB,
  type ModelSql,
  modelSql,
  NoForm,
  POSTGRESQL,
  type Published,
  type PublishedOverShards,
  publish,
  refusedText,
} from '@mellow-abacus/sql'
import { counted, type WorkbookView } from 'mellow-abacus'
import { lookAt } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { refuseBadPath, replaceFile } from '../../output/index.js'
import { CommandRefusal, type Io, UsageFault } from '../../shell/index.js'
import { overShards, placesText, type ShardArguments, settingsOf } from './over-shards.js'
import { withDatabase } from './with-database.js'

/** What `mellow publish` is told. */
export interface PublishArguments extends ShardArguments, Pick<ChangeArguments, 'findings' | 'color' | 'wait'> {
  readonly to: string
  readonly schema?: string
  readonly preview?: boolean
  readonly leaveOut?: readonly string[]
  readonly kept?: readonly string[]
  readonly since?: string
  readonly triggers?: boolean
  readonly replace?: boolean
  readonly output?: string
  readonly json?: boolean
}

const DIALECTS = { postgresql: POSTGRESQL, duckdb: DUCKDB }

/** Runs `mellow publish`. */
export async function runPublish(name: string, args: PublishArguments, io: Io): Promise<number> {
  const { output } = args
  const settings = settingsOf(args)
  if (output !== undefined) {
    refuseBadPath(output)
    return lookAt(name, args, io, ({ book }) => writeStatements(book, output, args, io))
  }
  return lookAt(name, args, io, async ({ book }) => {
    const options = {
      book: basename(name, '.mellow'),
      ...(args.schema !== undefined && { schema: args.schema }),
      ...(args.preview !== undefined && { preview: args.preview }),
      ...(args.leaveOut !== undefined && { leaveOut: args.leaveOut }),
      ...keeping(args),
      ...(args.replace !== undefined && { replaces: args.replace }),
    }
    if (settings !== null) tell(await overShards(book, settings, options, args), args, io)
    else tell(await withDatabase(args.to, (database) => publish(book, database, options)), args, io)
    return undefined
  })
}

/** What is kept, and by what it is refreshed. */
function keeping({ kept = [], since, triggers }: PublishArguments) {
  if (kept.length === 0 && (since !== undefined || triggers === true))
    throw new UsageFault(`${since === undefined ? '--triggers' : '--since'} is for what is kept: name it with --kept.`)
  return { kept, ...(since !== undefined && { since }), ...(triggers !== undefined && { triggers }) }
}

/** Writes what would be run on an empty schema. */
async function writeStatements(book: WorkbookView, output: string, args: PublishArguments, io: Io): Promise<undefined> {
  const engine = args.to.split(':')[0] as keyof typeof DIALECTS
  const dialect = DIALECTS[engine]
  if (dialect === undefined) throw new UsageFault(`expected --to postgresql or --to duckdb, received ${args.to}.`)
  const schema = args.schema ?? 'mellow'
  const { statements, refused, approximate, leftOut } = stated(() =>
    modelSql(book, dialect, { schema, leaveOut: args.leaveOut ?? [], ...keeping(args) }),
  )
  if (refused.length > 0) throw new CommandRefusal(refusedText(refused, dialect))
  const texts = [`create schema ${dialect.quote(schema)}`, ...statements.map(({ text }) => text)]
  await replaceFile(output, async (sink) => sink(texts.map((text) => `${text};\n`).join('\n')))
  io.err(`${counted(texts.length, 'statement')} for ${dialect.title} in ${output}\n`)
  tellRest(approximate, leftOut, io)
  return undefined
}

function stated(write: () => ModelSql): ModelSql {
  try {
    return write()
  } catch (error) {
    if (error instanceof NoForm) throw new CommandRefusal(error.message)
    throw error
  }
}

function tell(done: Published | PublishedOverShards, args: PublishArguments, io: Io): void {
  if (args.json === true) {
    const { statements, ...facts } = done
    io.show(`${JSON.stringify(args.preview === true ? { ...facts, statements } : facts, null, 2)}\n`)
    return
  }
  const onShards = 'placed' in done ? done.shardStatements : []
  if (args.preview === true) {
    const parts = [...(onShards.length > 0 ? ['-- on each of the shards', ...onShards, '-- here'] : []), ...done.statements]
    io.show(parts.map((text) => (text.startsWith('--') ? `${text}\n` : `${text};\n`)).join('\n'))
  }
  if ('placed' in done) io.show(placesText(done))
  const width = Math.max(...done.steps.map(({ kind }) => kind.length), 0)
  const lines = done.steps
    .filter(({ what }) => what !== 'kept')
    .map(({ what, kind, name }) => `  ${what.padEnd(7)}  ${kind.padEnd(width)}  ${name}`)
  const kept = done.steps.length - lines.length
  const rest = kept === 0 ? '' : `${lines.length === 0 ? '' : ', '}${counted(kept, 'object')} as before`
  const changes = lines.length === 0 ? '' : counted(lines.length, args.preview === true ? 'step' : 'change')
  const head = `${done.address}, schema ${done.schema}: ${changes}${rest}${args.preview === true ? ', of which nothing was done' : ''}`
  io.show(`${[head, ...lines].join('\n')}\n`)
  if ('leftBehind' in done && done.leftBehind.length > 0)
    io.err(`still there, since something else is in or made of it: ${done.leftBehind.join(', ')}\n`)
  if (done.kept.length > 0) io.err(`kept: ${done.kept.join(', ')}\n`)
  tellRest(done.approximate, done.leftOut, io)
}

/** A number with one digit, and no less than it is. */
function roundedUp(value: number): string {
  const exponent = Math.floor(Math.log10(value))
  return `${Math.ceil(value / 10 ** exponent)}e${exponent}`
}

/** Says what was left out, and which columns may differ in their last digits, and why. */
function tellRest(columns: readonly ApproximateColumn[], leftOut: readonly string[], io: Io): void {
  if (leftOut.length > 0) io.err(`left out: ${leftOut.join(', ')}\n`)
  if (columns.length === 0) return
  const list = columns.map(({ address, bound }) => (bound === null ? address : `${address} (to ${roundedUp(bound)})`)).join(', ')
  io.err(
    `${counted(columns.length, 'column')} approximate there, since databases add fractions in an order of their own: the last digits may differ. ${list}\n`,
  )
}
