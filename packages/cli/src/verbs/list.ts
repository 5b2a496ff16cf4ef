import type { Command } from 'commander'
import { STEPS, type Step, type Verb, type VerbTools } from './verb.js'

/** A verb whose command stands in a module with others. */
function verb(name: string, form: string, summary: string, load: () => Promise<(tools: VerbTools) => Command>): Verb {
  const step = STEPS.find((one) => VERBS_OF[one].includes(name))
  if (step === undefined) throw new RangeError(`the verb ${name} belongs to no step of the job`)
  return { name, step, form, summary, load }
}

/** Verbs by the steps of the job. */
const VERBS_OF: Readonly<Record<Step, readonly string[]>> = {
  'Without a workbook': ['calc'],
  'Get rows in': ['new', 'table', 'import', 'attach', 'reread', 'watch'],
  Define: ['define', 'suggest', 'column', 'value', 'function', 'link', 'tally', 'rule', 'stamp', 'describe'],
  Edit: ['set', 'rows', 'fill'],
  'The life of a column': [
    'move',
    'rename',
    'hide',
    'unhide',
    'pause',
    'resume',
    'detach',
    'remove',
    'mode',
    'recalculate',
    'tick',
  ],
  Look: ['show', 'report', 'chart', 'fit', 'list', 'profile'],
  'Catch mistakes, understand': ['check', 'fix', 'accept', 'explain', 'why', 'trace'],
  History: ['history', 'undo', 'redo', 'apply', 'journal', 'replay'],
  'Hand over': ['export', 'publish', 'refresh'],
  Share: ['desk', 'groups', 'serve', 'mcp', 'token', 'backup'],
  'The tool': ['functions', 'completion', 'demo'],
}

type Commands = Readonly<Record<string, (tools: VerbTools) => Command>>
const from = (commands: Commands, name: string): ((tools: VerbTools) => Command) =>
  commands[name] as (tools: VerbTools) => Command
const create = async (): Promise<typeof import('./create/index.js')> => import('./create/index.js')
const define = async (): Promise<typeof import('./define/index.js')> => import('./define/index.js')
const edit = async (): Promise<typeof import('./edit/index.js')> => import('./edit/index.js')
const columns = (name: string) => async (): Promise<(tools: VerbTools) => Command> =>
  from((await import('./columns/index.js')).COLUMN_COMMANDS, name)
const inspect = (name: string) => async (): Promise<(tools: VerbTools) => Command> =>
  from((await import('./inspect/index.js')).INSPECT_COMMANDS, name)
const share = async (): Promise<typeof import('./share/index.js')> => import('./share/index.js')
const history = (name: string) => async (): Promise<(tools: VerbTools) => Command> =>
  from((await import('./history/index.js')).HISTORY_COMMANDS, name)

/** Every verb, in the order of the help. */
export const VERBS: readonly Verb[] = [
  verb(
    'calc',
    '<file> [definitions...]',
    'add calculated columns to a file',
    async () => (await import('./calc/index.js')).calcCommand,
  ),
  verb('new', '<book>', 'make an empty workbook', async () => (await create()).newCommand),
  verb('table', '<book> <table> [columns...]', 'add an empty table', async () => (await create()).tableCommand),
  verb('import', '<book> <file>', 'read a file into a table', async () => (await create()).importCommand),
  verb('attach', '<book> <table>', 'a table that is a sample of what a database has', async () => (await create()).attachCommand),
  verb('reread', '<book> <table> [file]', 'read the source of a table again', async () => (await create()).rereadCommand),
  verb('watch', '<book> <table> <file>', 'keep reading a file again while it changes', async () => (await create()).watchCommand),
  verb(
    'define',
    '<book> <table> [definitions...]',
    'add or change calculated columns',
    async () => (await define()).defineCommand,
  ),
  verb('suggest', '<book> <table> <columns>', 'write formulas from examples', async () => (await define()).suggestCommand),
  verb('column', '<book> <table.column...>', 'add plain columns', async () => (await define()).columnCommand),
  verb(
    'describe',
    '<book> [addresses...]',
    'give columns, a table or the workbook properties',
    async () => (await define()).describeCommand,
  ),
  verb('move', '<book> <table.column>', 'put a column elsewhere', async () => (await define()).moveCommand),
  verb('value', '<book> <definition>', 'set a named value', async () => (await define()).valueCommand),
  verb('function', '<book> <definition>', 'set a function that formulas call', async () => (await define()).functionCommand),
  verb('link', '<book> <link>', 'link two tables', async () => (await define()).linkCommand),
  verb('tally', '<book> <table> <definition>', 'set a tally of a table', async () => (await define()).tallyCommand),
  verb('rule', '<book> <table> <definition>', 'set a condition that rows are to meet', async () => (await define()).ruleCommand),
  verb('set', '<book> <table> [row] [name=value...]', 'write cells', async () => (await edit()).setCommand),
  verb('rows', '<book> <table> add|remove [words...]', 'add or remove rows', async () => (await edit()).rowsCommand),
  verb('fill', '<book> <table> <definition>', 'write a column once by a formula', async () => (await edit()).fillCommand),
  verb('pause', '<book> <table.column>', 'type over a calculated column for a while', columns('pause')),
  verb('resume', '<book> <table.column>', 'have a paused column calculate again', columns('resume')),
  verb('detach', '<book> <table.column>', 'keep the values, drop the formula', columns('detach')),
  verb('stamp', '<book> <table.column>', 'record when something was filled', columns('stamp')),
  verb('rename', '<book> <address> to <name>', 'give another name; formulas follow', columns('rename')),
  verb('hide', '<book> <table.column>', 'leave a column out of what is shown', columns('hide')),
  verb('unhide', '<book> <table.column>', 'show a hidden column again', columns('unhide')),
  verb('remove', '<book> <address>', 'take something away', columns('remove')),
  verb('mode', '<book> live|on-demand', 'say when to calculate', columns('mode')),
  verb('recalculate', '<book> [addresses...]', 'calculate what is stale', columns('recalculate')),
  verb('tick', '<book>', "move the workbook's clock and seed", columns('tick')),
  verb('show', '<book> [table]', 'look at rows', inspect('show')),
  verb('report', '<book> [name]', 'show groups that were kept', inspect('report')),
  verb('chart', '<book> [name]', 'draw rows or groups, or list the charts', inspect('chart')),
  verb('fit', '<book> <table> <quantities>', 'fit a curve to rows', inspect('fit')),
  verb('list', '<book> [kind]', 'list what is defined', inspect('list')),
  verb('groups', '<book>', 'list who columns are hidden from', inspect('groups')),
  verb('desk', '[book]', 'open a workbook on the page', async () => (await share()).deskCommand),
  verb('serve', '<folder>', 'serve workbooks over HTTP', async () => (await share()).serveCommand),
  verb('mcp', '<book>', 'let an assistant program in to a workbook', async () => (await share()).mcpCommand),
  verb('token', '<folder> <action> [which]', 'say who may come in to served workbooks', async () => (await share()).tokenCommand),
  verb('backup', '<folder> <target>', 'copy all workbooks of a folder', async () => (await share()).backupCommand),
  verb('profile', '<book> <table.column>', 'tell what a column holds', inspect('profile')),
  verb('check', '<book>', 'list all findings', inspect('check')),
  verb('fix', '<book> <n>', 'apply the fix of a finding', inspect('fix')),
  verb('accept', '<book> <n>', 'accept a finding, with a reason', inspect('accept')),
  verb('explain', '<formula>', 'say in plain English what a formula does', inspect('explain')),
  verb('why', '<book> <address> [row]', 'tell where a value comes from', inspect('why')),
  verb('trace', '<book> <address>', 'tell what reads what', inspect('trace')),
  verb('history', '<book>', 'list the steps of a workbook', history('history')),
  verb('undo', '<book> [n]', 'take steps back', history('undo')),
  verb('redo', '<book> [n]', 'do undone steps again', history('redo')),
  verb('apply', '<book> <file>', 'apply operations of an NDJSON file', history('apply')),
  verb('journal', '<book>', 'write the steps as NDJSON', history('journal')),
  verb('replay', '<file> <book>', 'repeat the steps of a journal', history('replay')),
  verb('export', '<book> [table]', 'write a table to a file', inspect('export')),
  verb(
    'publish',
    '<book> --to <address>',
    'carry the formulas to a database',
    async () => (await import('./publish/index.js')).publishCommand,
  ),
  verb(
    'refresh',
    '<book>',
    'bring what is kept in a database up to date',
    async () => (await import('./publish/index.js')).refreshCommand,
  ),
  verb(
    'completion',
    'bash|zsh|fish',
    'complete words in a shell',
    async () => (await import('./completion/index.js')).completionCommand,
  ),
  verb(
    'functions',
    '[words...]',
    'list and search the functions of formulas',
    async () => (await import('./functions/index.js')).functionsCommand,
  ),
  verb(
    'demo',
    '[folder]',
    'write the demo tables and walk through them',
    async () => (await import('./demo/index.js')).demoCommand,
  ),
]
