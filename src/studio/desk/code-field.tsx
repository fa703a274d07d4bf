'use client'

import { css } from '@codemirror/lang-css'
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint'
import { EditorState, type Extension } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { basicSetup } from 'codemirror'
import { useEffect, useRef } from 'react'
import { scopeStyle } from '@/components/style/scope'

/** Code with line numbers, colours and, for rules, faults marked while they are typed. */
export function CodeField({
  label,
  value,
  language,
  disabled,
  change,
}: {
  label: string
  value: string
  language: 'css' | 'script'
  disabled: boolean
  change: (value: string) => void
}) {
  const holder = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const latest = useRef(change)
  const first = useRef(value)
  useEffect(() => {
    latest.current = change
  })
  useEffect(() => {
    if (holder.current === null) return
    const extensions: Extension[] = [
      basicSetup,
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': label }),
      EditorState.readOnly.of(disabled),
      EditorView.updateListener.of((update) => {
        if (update.docChanged) latest.current(update.state.doc.toString())
      }),
      ...(language === 'css' ? [css(), lintGutter(), linter(diagnose, { delay: 250 })] : []),
    ]
    const editor = new EditorView({ parent: holder.current, state: EditorState.create({ doc: first.current, extensions }) })
    view.current = editor
    return () => editor.destroy()
  }, [label, language, disabled])
  useEffect(() => {
    first.current = value
    const editor = view.current
    if (editor === null || editor.state.doc.toString() === value) return
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } })
  }, [value])
  return <div ref={holder} className="code-field" />
}

function diagnose({ state }: EditorView): Diagnostic[] {
  return scopeStyle(state.doc.toString(), 'x').faults.map(({ line, column, message }) => {
    const at = state.doc.line(Math.min(Math.max(1, line), state.doc.lines))
    const from = Math.min(at.from + Math.max(0, column - 1), at.to)
    return { from, to: Math.max(from, at.to), severity: 'error', message }
  })
}
