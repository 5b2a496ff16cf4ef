import type { Explanation } from '../formula/index.js'
import { type Answers, explanationOf, groupsOf, languageOf, traceOf, whyOf } from './answers.js'
import type { GroupedResult, GroupedView } from './reports/index.js'
import { stateOf } from './slim-view.js'
import { SlimWorkbook } from './slim-workbook.js'
import type { TableLanguage } from './table-language.js'
import type { Derivation, Trace } from './tracing/index.js'
import { WorkbookView } from './workbook-view.js'

/**
 * A workbook: tables whose calculated columns follow every edit. Everything that changes it is an operation; everything it
 * shows is derived. Two workbooks share nothing.
 */
export class Workbook extends SlimWorkbook implements Answers {
  override get view(): WorkbookView {
    return new WorkbookView(stateOf(this))
  }

  group(view: GroupedView): GroupedResult {
    return groupsOf(this, view)
  }

  why(address: string, row?: number): Derivation {
    return whyOf(this, address, row)
  }

  trace(address: string): Trace {
    return traceOf(this, address)
  }

  explain(table: string, formula: string): Explanation {
    return explanationOf(this, table, formula)
  }

  language(table: string): TableLanguage {
    return languageOf(this, table)
  }
}
