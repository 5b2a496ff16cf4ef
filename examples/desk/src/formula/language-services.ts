import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
  completionKeymap,
} from '@codemirror/autocomplete'
import { type EditorState, type Extension, RangeSetBuilder, StateEffect, StateField } from '@codemirror/state'
import {
  Decoration,
  type DecorationSet,
  EditorView,
  hoverTooltip,
  keymap,
  showTooltip,
  type Tooltip,
  ViewPlugin,
  type ViewUpdate,
} from '@codemirror/view'
import type { LanguageSession } from '@mellow-abacus/session'
import type { TokenOfKind } from 'mellow-abacus'
import type { DraftParts } from './draft-parts'

/** The language of one table, and which part of the text is a formula. */
export interface EditedLanguage {
  readonly language: LanguageSession
  readonly table: string
  parts(text: string): DraftParts | null
}

type Ask = () => EditedLanguage

/** What the language of a table gives an editor: colours, words to offer, hovering, and the form of the call at the cursor. */
export function languageServices(ask: Ask): Extension {
  return [
    colours(ask),
    autocompletion({ override: [(context) => offer(ask(), context)], icons: false, closeOnBlur: true }),
    keymap.of(completionKeymap),
    hoverTooltip((view, at) => hover(ask(), view.state, at)),
    callForm(ask),
  ]
}

const setColours = StateEffect.define<DecorationSet>()

/** Colours come a moment after what is typed; until then those that are there move with the text. */
function colours(ask: Ask): Extension {
  const field = StateField.define<DecorationSet>({
    create: () => Decoration.none,
    update: (before, transaction) => {
      const fresh = transaction.effects.find((effect) => effect.is(setColours))
      return fresh === undefined ? before.map(transaction.changes) : (fresh.value as DecorationSet)
    },
    provide: (own) => EditorView.decorations.from(own),
  })
  return [field, asking(async (text) => setColours.of(await marksOf(ask(), text)))]
}

async function marksOf({ language, table, parts }: EditedLanguage, text: string): Promise<DecorationSet> {
  const part = parts(text)
  const builder = new RangeSetBuilder<Decoration>()
  const tokens: readonly TokenOfKind[] = part === null ? [] : await language.tokens(table, part.formula)
  for (const { from, to, kind } of tokens)
    builder.add((part?.from ?? 0) + from, (part?.from ?? 0) + to, Decoration.mark({ class: `token-${kind}` }))
  return builder.finish()
}

/** Milliseconds after a key before it is asked what goes with the text: the key itself is drawn before. */
const PAUSE_MS = 40

/** Asks for something each time that the text or the cursor is another, and puts the answer in unless it came too late. */
function asking(ask: (text: string, at: number) => Promise<StateEffect<unknown>>): Extension {
  return ViewPlugin.fromClass(
    class {
      readonly #view: EditorView
      #isGone = false
      #timer: ReturnType<typeof setTimeout> | undefined
      constructor(view: EditorView) {
        this.#view = view
        this.#ask()
      }
      update(update: ViewUpdate): void {
        if (!update.docChanged && !update.selectionSet) return
        clearTimeout(this.#timer)
        this.#timer = setTimeout(() => this.#ask(), PAUSE_MS)
      }
      destroy(): void {
        this.#isGone = true
        clearTimeout(this.#timer)
      }
      #ask(): void {
        const { doc, selection } = this.#view.state
        ask(doc.toString(), selection.main.head).then(
          (effect) => {
            if (!this.#isGone && this.#view.state.doc === doc) this.#view.dispatch({ effects: effect })
          },
          // A session that has ended says so elsewhere.
          () => undefined,
        )
      }
    },
  )
}

async function offer({ language, table, parts }: EditedLanguage, context: CompletionContext): Promise<CompletionResult | null> {
  const part = parts(context.state.doc.toString())
  if (part === null || context.pos < part.from) return null
  const { from, to, options } = await language.complete(table, part.formula, context.pos - part.from)
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

async function hover({ language, table, parts }: EditedLanguage, state: EditorState, at: number): Promise<Tooltip | null> {
  const part = parts(state.doc.toString())
  const found = part === null || at < part.from ? null : await language.hover(table, part.formula, at - part.from)
  if (part === null || found === null) return null
  return {
    pos: part.from + found.from,
    end: part.from + found.to,
    above: true,
    create: () => ({ dom: noteOf(found.title, found.lines) }),
  }
}

const setForm = StateEffect.define<Tooltip | null>()

/** The form of the call that the cursor is in, with the parameter being written in bold. */
function callForm(ask: Ask): Extension {
  const field = StateField.define<Tooltip | null>({
    create: () => null,
    update: (before, transaction) => {
      const fresh = transaction.effects.find((effect) => effect.is(setForm))
      return fresh === undefined ? before : (fresh.value as Tooltip | null)
    },
    provide: (own) => showTooltip.from(own),
  })
  return [field, asking(async (text, at) => setForm.of(await formAt(ask(), text, at)))]
}

async function formAt({ language, table, parts }: EditedLanguage, text: string, at: number): Promise<Tooltip | null> {
  const part = parts(text)
  const help = part === null || at < part.from ? null : await language.signature(table, part.formula, at - part.from)
  if (help === null) return null
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
  return { pos: at, above: true, strictSide: true, create }
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
