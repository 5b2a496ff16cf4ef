import { applyEdits, counted, type Finding, type Operation, type WorkbookView } from 'mellow-abacus'
import { change, formulaAt, formulaOf, lookAt, stamp } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { findingsJson, findingText, placeOf } from '../../output/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { CommandRefusal, ExitCode, makePaint, UsageFault } from '../../shell/index.js'

/** Runs `mellow check`: what there is to say of a workbook goes to standard output, since that is the result. */
export function runCheck(book: string, args: ChangeArguments, io: Io): Promise<number> {
  return lookAt(book, args, io, ({ book: workbook }) => {
    const findings = allFindings(workbook)
    const blocking = args.strict === true ? ['error', 'warning'] : ['error']
    const isRefused = findings.some((one) => blocking.includes(one.severity))
    if (args.findings === 'json') io.err(findingsJson(findings))
    else {
      const paint = makePaint(io.colours)
      for (const [index, one] of findings.entries()) {
        const text = findingText(one, placeOf(one, 'book'), formulaOf(workbook, one), paint)
        const fixable =
          one.fixes[0] === undefined ? '' : `  ${paint.quiet(`mellow fix ${book} ${index + 1}`)}: ${one.fixes[0].title}\n`
        io.show(`${index + 1}. ${text}${fixable}`)
      }
      io.show(findings.length === 0 ? 'No findings.\n' : `${counted(findings.length, 'finding')}.\n`)
      for (const { finding, acceptance } of workbook.accepted()) {
        const by = [acceptance.author, acceptance.at].filter((one) => one !== null).join(', ')
        const why = `accepted${by === '' ? '' : ` by ${by}`}, because ${acceptance.because}`
        io.show(`${paint.quiet(`${placeOf(finding, 'book')}: ${finding.message} (${why})`)}\n`)
      }
    }
    return isRefused ? ExitCode.refused : ExitCode.done
  })
}

/** Everything there is to say of a workbook: of its tables, then of its reports, but for those that ask for something first. */
function allFindings(workbook: WorkbookView): Finding[] {
  const ofReports = workbook.reports.flatMap((name) => {
    const { parameters = [] } = workbook.reportDefinition(name)
    if (parameters.some(({ value }) => value === undefined)) return []
    using report = workbook.report(name)
    return report.current.findings()
  })
  return [...workbook.check(), ...ofReports]
}

/** Runs `mellow accept`. */
export function runAccept(book: string, text: string, args: ChangeArguments & { because: string }, io: Io): Promise<number> {
  const number = wholeNumber('<n>', text, 1)
  if (args.because.trim() === '') throw new UsageFault("--because takes a reason, such as 'counted by hand'.")
  return change(book, args, io, (workbook) => {
    const { author = null, at = null } = stamp(workbook, args)
    const found = findingAt(workbook, book, number)
    if (found.report !== undefined)
      throw new CommandRefusal(
        `finding ${number} is of the report ${found.report}, which says it whenever it is made: it cannot be accepted.`,
      )
    return [{ ...workbook.accepting(found, args.because), author, at }]
  })
}

/** Runs `mellow fix`. */
export function runFix(book: string, text: string, args: ChangeArguments, io: Io): Promise<number> {
  const number = wholeNumber('<n>', text, 1)
  return change(book, args, io, (workbook) => {
    return fixing(workbook, findingAt(workbook, book, number), number)
  })
}

/**
 * A finding by its number in `mellow check`.
 *
 * @throws UsageFault
 */
function findingAt(workbook: WorkbookView, book: string, number: number): Finding {
  const findings = allFindings(workbook)
  const found = findings[number - 1]
  if (found !== undefined) return found
  throw new CommandRefusal(`there is no finding ${number}, of ${findings.length} in all: mellow check ${book}`)
}

function fixing(book: WorkbookView, found: Finding, number: number): Operation[] {
  const [fix] = found.fixes
  if (fix === undefined) throw new CommandRefusal(`finding ${number} has no fix of one step: ${found.message}`)
  const at = formulaAt(book, found)
  const edited = fix.edits === undefined || at === undefined ? [] : [at.rewritten(applyEdits(at.formula, fix.edits))]
  return [...((fix.operations ?? []) as Operation[]), ...edited]
}
