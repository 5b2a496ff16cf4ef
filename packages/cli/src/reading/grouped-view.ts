import {
  type GroupedView,
  isSameName,
  nearestName,
  parseLevels,
  parseViewOrder,
  parseViewParameter,
  parseViewTop,
  printName,
  Refusal,
  type ViewFormula,
  type ViewLevel,
} from 'mellow-abacus'
import type { PlacedText, ViewArguments } from '../options/index.js'
import { UsageFault } from '../shell/index.js'
import { type DefinitionFault, type GivenDefinition, optionDefinitions } from './definitions.js'

/** A grouped view of the command line, with the definitions it was made from. */
export interface GivenView {
  readonly view: Omit<GroupedView, 'table'>
  readonly definitions: readonly GivenDefinition[]
  readonly tallies: readonly GivenDefinition[]
  readonly faults: readonly DefinitionFault[]
}

/** The grouped view that options ask for; null where they ask for rows. */
export function givenView(args: ViewArguments): GivenView | null {
  const { across, group, column, tally, line, order, top, where, details, tallyDetails, having, flat } = args
  if (group.length + column.length + tally.length + line.length === 0) {
    const idle = {
      '--across': across,
      '--details': details,
      '--tally-details': tallyDetails,
      '--having': having,
      '--flat': flat,
    }
    const repeated = { '--top': top[0], '--parameter': args.parameter[0], '--display': args.display[0] }
    const given = Object.entries({ ...idle, ...repeated })
    const [first] = given.find(([, value]) => value !== undefined) ?? []
    if (first !== undefined) throw new UsageFault(`${first} is for groups; it goes with --group, --column, --tally or --line`)
    return null
  }
  const [columns, tallies, lines] = [taken('--column', column.map(namedByText)), taken('--tally', tally), taken('--line', line)]
  const parts = [columns, tallies, lines]
  const displays = displaysOf(args.display)
  const shown = ({ name, formula }: GivenDefinition): ViewFormula => {
    const display = displays.take(name)
    return { name, formula, ...(display !== undefined && { display }) }
  }
  const placed = parts.flatMap(({ definitions }) => definitions).sort((a, b) => a.place - b.place)
  const given: GivenView = {
    view: {
      levels: read('--group', group, parseLevels).flat(),
      columns: columns.definitions.map(shown),
      tallies: tallies.definitions.map(shown),
      lines: lines.definitions.map(shown),
      shown: placed.map(({ name }) => name),
      order: read('--order', order, parseViewOrder).flat(),
      parameters: read('--parameter', args.parameter, parseViewParameter),
      top: read('--top', top, parseViewTop),
      ...(where !== undefined && { where }),
      ...(across !== undefined && { across: keyOf(across) }),
      ...(details !== undefined && { details }),
      ...(tallyDetails !== undefined && { tallyDetails }),
      ...(having !== undefined && { having }),
      ...(flat !== undefined && { flat }),
    },
    definitions: placed,
    tallies: tallies.definitions,
    faults: parts.flatMap(({ faults }) => faults),
  }
  displays.refuseRest(placed.map(({ name }) => name))
  return given
}

/** How columns are shown, as `--display` says it: `part: percent`. */
function displaysOf(texts: readonly string[]): {
  readonly take: (name: string) => string | undefined
  readonly refuseRest: (names: readonly string[]) => void
} {
  const open = texts.map((text) => {
    const [, quoted, plain, display = ''] = /^\s*(?:`((?:[^`]|``)+)`|([^:`]+?))\s*:\s*(\S.*?)\s*$/s.exec(text) ?? []
    const name = quoted?.replaceAll('``', '`') ?? plain
    if (name === undefined) throw new UsageFault(`--display: expected a column and a format like 'part: percent', not "${text}"`)
    return { name, display }
  })
  return {
    take: (name) => {
      const at = open.findIndex((one) => isSameName(one.name, name))
      return at < 0 ? undefined : open.splice(at, 1)[0]?.display
    },
    refuseRest: (names) => {
      const [stray] = open
      if (stray === undefined) return
      const near = nearestName(stray.name, names)
      throw new UsageFault(`--display: there is no column ${stray.name}${near === undefined ? '' : `; the nearest is ${near}`}`)
    },
  }
}

/** Reads what an option says, each time that it is given; what cannot be read is a fault of the command. */
function read<Read>(option: string, texts: readonly string[], parse: (text: string) => Read): Read[] {
  return texts.map((text) => {
    try {
      return parse(text)
    } catch (error) {
      if (error instanceof Refusal) throw new UsageFault(`${option}: ${String(error.findings[0]?.parameters?.reason)}`)
      throw error
    }
  })
}

/** The key that `--across` says. */
function keyOf(text: string): ViewLevel {
  const [key, other] = read('--across', [text], parseLevels).flat()
  if (key === undefined || other !== undefined) throw new UsageFault(`--across: expected one key, received "${text}"`)
  return key
}

/** A column without a name is called as it is typed: `hive` is `hive = hive`. */
function namedByText({ place, text }: PlacedText): PlacedText {
  const [key, other] = parseLevels(text)
  const isNameless = key !== undefined && other === undefined && key.name === undefined && key.key !== ''
  return { place, text: isNameless ? `${printName(key.key)} = ${key.key}` : text }
}

/** Takes the definitions of an option apart; each keeps its place among all that were typed. */
function taken(
  option: string,
  given: readonly PlacedText[],
): { definitions: (GivenDefinition & { place: number })[]; faults: DefinitionFault[] } {
  const read = given.map(({ place, text }) => ({ place, ...optionDefinitions(option, [text]) }))
  return {
    definitions: read.flatMap(({ place, definitions }) => definitions.map((one) => ({ ...one, place }))),
    faults: read.flatMap(({ faults }) => faults),
  }
}
