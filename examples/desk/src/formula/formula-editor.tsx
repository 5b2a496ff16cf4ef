import { history, historyKeymap, standardKeymap } from '@codemirror/commands'
import { setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder } from '@codemirror/view'
import type { Finding } from 'mellow-abacus'
import { useEffect, useRef } from 'react'
import { formulaTheme } from './formula-theme'
import { type EditedLanguage, languageServices } from './language-services'

/**
 * Puts what is typed in place of a selection. Left to itself the browser keeps the looks of what was selected in a style of the
 * new text, which the policy of the page forbids.
 */
function typeOver(event: InputEvent, view: EditorView): boolean {
  if (event.inputType !== 'insertText' || event.data === null || view.state.selection.main.empty) return false
  event.preventDefault()
  const { state } = view
  view.dispatch(state.update(state.replaceSelection(event.data), { userEvent: 'input.type', scrollIntoView: true }))
  return true
}

/**
 * The text field of a definition: colours, completion, hover and the form of the function being typed come from the language
 * of the table; findings are underlined. It lives in a shadow root, where its styles need no exception from the policy.
 */
export function FormulaEditor({
  label,
  hint,
  value,
  findings,
  edited,
  put,
  onChange,
  onSubmit,
  onGiveUp,
}: {
  label: string
  hint: string
  value: string
  /** With spans in the whole text. */
  findings: readonly Finding[]
  edited: EditedLanguage
  /** A function to be called at the cursor, around what is selected, each time it is another object; null for none. */
  put: { readonly name: string } | null
  onChange: (text: string) => void
  onSubmit: () => void
  onGiveUp: () => void
}) {
  const place = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const calls = useRef({ edited, onChange, onSubmit, onGiveUp })
  calls.current = { edited, onChange, onSubmit, onGiveUp }
  const first = useRef(value)
  /** What the page was told last; what it gives back late would take letters away that came after it. */
  const told = useRef(value)

  useEffect(() => {
    const host = place.current
    if (host === null) return
    const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    const run = (act: () => void) => (): boolean => {
      act()
      return true
    }
    const made = new EditorView({
      root,
      parent: root,
      state: EditorState.create({
        doc: first.current,
        selection: { anchor: first.current.length },
        extensions: [
          keymap.of([{ key: 'Mod-Enter', run: run(() => calls.current.onSubmit()) }]),
          history(),
          languageServices(() => calls.current.edited),
          keymap.of([{ key: 'Escape', run: run(() => calls.current.onGiveUp()) }, ...standardKeymap, ...historyKeymap]),
          formulaTheme,
          placeholder(hint),
          EditorView.domEventHandlers({ beforeinput: typeOver }),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged) return
            told.current = update.state.doc.toString()
            calls.current.onChange(told.current)
          }),
        ],
      }),
    })
    view.current = made
    made.focus()
    return () => {
      first.current = made.state.doc.toString()
      made.destroy()
      view.current = null
    }
  }, [label, hint])

  // A text that was not typed: a fix, even spacing.
  useEffect(() => {
    const editor = view.current
    if (editor === null || value === told.current) return
    told.current = value
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value }, selection: { anchor: value.length } })
  }, [value])

  useEffect(() => {
    const editor = view.current
    if (editor === null || put === null) return
    const { from, to } = editor.state.selection.main
    const selected = editor.state.sliceDoc(from, to)
    const anchor = from + put.name.length + 1 + selected.length
    editor.dispatch({ changes: { from, to, insert: `${put.name}(${selected})` }, selection: { anchor }, scrollIntoView: true })
    editor.focus()
  }, [put])

  useEffect(() => {
    const editor = view.current
    if (editor === null) return
    const { length } = editor.state.doc
    const marks = findings.flatMap(({ from, to, severity, message }) => {
      if (from === undefined || to === undefined || from > length) return []
      const kind = severity === 'hint' ? ('info' as const) : severity
      return [{ from, to: Math.min(length, Math.max(to, from + 1)), severity: kind, message }]
    })
    editor.dispatch(setDiagnostics(editor.state, marks))
  }, [findings])

  return <div className="formula-editor" ref={place} />
}
