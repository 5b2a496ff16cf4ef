import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
  completionKeymap,
} from '@codemirror/autocomplete'
import { type EditorState, type Extension, RangeSetBuilder, StateField } from '@codemirror/state'
import {
  Decoration,
  type DecorationSet,
  type EditorView,
  hoverTooltip,
  keymap,
  showTooltip,
  type Tooltip,
  ViewPlugin,
  type ViewUpdate,
} from '@codemirror/view'
import type { TableLanguage } from 'mellow-abacus'
import { formulaPart } from './draft'

/** Asks for the language at the moment it is needed: the workbook moves on while the editor stays. */
type Ask = () => TableLanguage

/** What the language of a table gives an editor: colours, words to offer, hovering, and the form of the call at the cursor. */
export function formulaServices(ask: Ask): Extension {
  return [
    colours(ask),
    autocompletion({ override: [(context) => offer(ask, context)], icons: false, closeOnBlur: true }),
    keymap.of(completionKeymap),
    hoverTooltip((view, at) => hover(ask, view.state, at)),
    callForm(ask),
  ]
}

function colours(ask: Ask): Extension {
  const marksOf = (view: EditorView): DecorationSet => {
    const builder = new RangeSetBuilder<Decoration>()
    const part = formulaPart(view.state.doc.toString())
    if (part === null) return builder.finish()
    for (const { from, to, kind } of ask().tokens(part.formula))
      builder.add(part.from + from, part.from + to, Decoration.mark({ class: `token-${kind}` }))
    return builder.finish()
  }
  return ViewPlugin.fromClass(
    class {
      marks: DecorationSet
      constructor(view: EditorView) {
        this.marks = marksOf(view)
      }
      update(update: ViewUpdate): void {
        if (update.docChanged) this.marks = marksOf(update.view)
      }
    },
    { decorations: (plugin) => plugin.marks },
  )
}

function offer(ask: Ask, context: CompletionContext): CompletionResult | null {
  const part = formulaPart(context.state.doc.toString())
  if (part === null || context.pos < part.from) return null
  const { from, to, options } = ask().complete(part.formula, context.pos - part.from)
  // Everything at once would stand in the way of writing; Ctrl+Space asks for it.
  if (options.length === 0 || (from === to && !context.explicit && context.state.sliceDoc(context.pos - 1, context.pos) !== '.'))
    return null
  return {
    from: part.from + from,
    to: part.from + to,
    filter: false,
    options: options.slice(0, 60).map(
      (option): Completion => ({
        label: option.label,
        detail:
          option.kind === 'function' ? option.detail : [option.detail, option.info].filter((text) => text !== '').join(' · '),
        apply: option.insert,
        ...(option.kind === 'function' && { info: option.info }),
      }),
    ),
  }
}

function hover(ask: Ask, state: EditorState, at: number): Tooltip | null {
  const part = formulaPart(state.doc.toString())
  const found = part === null || at < part.from ? null : ask().hover(part.formula, at - part.from)
  if (part === null || found === null) return null
  return {
    pos: part.from + found.from,
    end: part.from + found.to,
    above: true,
    create: () => ({ dom: noteOf(found.title, found.lines) }),
  }
}

/** The form of the call that the cursor is in, with the parameter being written in bold. */
function callForm(ask: Ask): Extension {
  const tooltips = (state: EditorState): readonly Tooltip[] => {
    const at = state.selection.main.head
    const part = formulaPart(state.doc.toString())
    const help = part === null || at < part.from ? null : ask().signature(part.formula, at - part.from)
    if (help === null) return []
    const active = help.active === null ? undefined : help.parameters[help.active]
    const create = (): { dom: HTMLElement } => {
      const dom = noteOf('', [])
      const { from, to } = active ?? { from: 0, to: 0 }
      dom.className = 'note form'
      const strong = document.createElement('b')
      strong.textContent = help.form.slice(from, to)
      dom.append(help.form.slice(0, from), strong, help.form.slice(to))
      return { dom }
    }
    return [{ pos: at, above: true, strictSide: true, create }]
  }
  return StateField.define<readonly Tooltip[]>({
    create: tooltips,
    update: (before, transaction) =>
      transaction.docChanged || transaction.selection !== undefined ? tooltips(transaction.state) : before,
    provide: (field) => showTooltip.computeN([field], (state) => state.field(field)),
  })
}

function noteOf(title: string, lines: readonly string[]): HTMLElement {
  const dom = document.createElement('div')
  dom.className = 'note'
  for (const [index, text] of [title, ...lines].entries()) {
    if (text === '') continue
    const line = document.createElement('div')
    line.className = index === 0 ? 'note-title' : ''
    line.textContent = text
    dom.append(line)
  }
  return dom
}
