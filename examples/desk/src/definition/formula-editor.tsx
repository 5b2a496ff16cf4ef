import { history, historyKeymap, standardKeymap } from '@codemirror/commands'
import { setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder } from '@codemirror/view'
import type { Finding, TableLanguage } from 'mellow-abacus'
import { useEffect, useRef } from 'react'
import { formulaServices } from './formula-services'
import { formulaTheme } from './formula-theme'

/** A text that was not typed: a fix, an even spacing, nothing after a column was added. */
export interface Replacement {
  readonly text: string
}

/**
 * The text field of a definition: colours, completion, hover and the form of the function being typed come from the language
 * of the table; findings are underlined. It lives in a shadow root, where its styles need no exception from the policy.
 */
export function FormulaEditor({
  label,
  hint,
  replacement,
  value,
  findings,
  language,
  onChange,
  onSubmit,
}: {
  label: string
  hint: string
  /** The text as the page knows it, which may lag behind what is being typed. */
  value: string
  /** A text that takes the place of what stands in the editor, each time it is another object. */
  replacement: Replacement
  /** With spans in the whole text. */
  findings: readonly Finding[]
  language: () => TableLanguage
  onChange: (text: string) => void
  onSubmit: () => void
}) {
  const place = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const calls = useRef({ language, onChange, onSubmit })
  calls.current = { language, onChange, onSubmit }

  useEffect(() => {
    const host = place.current
    if (host === null) return
    const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    const submit = (): boolean => {
      calls.current.onSubmit()
      return true
    }
    const made = new EditorView({
      root,
      parent: root,
      state: EditorState.create({
        extensions: [
          keymap.of([{ key: 'Mod-Enter', run: submit }]),
          history(),
          formulaServices(() => calls.current.language()),
          keymap.of([...standardKeymap, ...historyKeymap]),
          formulaTheme,
          placeholder(hint),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) calls.current.onChange(update.state.doc.toString())
          }),
        ],
      }),
    })
    view.current = made
    return () => {
      made.destroy()
      view.current = null
    }
  }, [label, hint])

  useEffect(() => {
    const editor = view.current
    if (editor === null || editor.state.doc.toString() === replacement.text) return
    const { text } = replacement
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text }, selection: { anchor: text.length } })
  }, [replacement])

  useEffect(() => {
    const editor = view.current
    if (editor === null || editor.state.doc.toString() !== value) return
    const { length } = editor.state.doc
    const marks = findings.flatMap(({ from, to, severity, message }) => {
      if (from === undefined || to === undefined || from > length) return []
      return [
        {
          from,
          to: Math.min(length, Math.max(to, from + 1)),
          severity: severity === 'hint' ? ('info' as const) : severity,
          message,
        },
      ]
    })
    editor.dispatch(setDiagnostics(editor.state, marks))
  }, [findings, value])

  return <div className="formula-editor" ref={place} />
}
