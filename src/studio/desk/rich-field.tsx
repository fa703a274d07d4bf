'use client'

import { EditorContent, useEditor } from '@tiptap/react'
import { useEffect, useRef } from 'react'
import { richText } from '@/components/rich-text'
import type { ContentDocument } from '@/core/document'
import { richExtensions, RichTools } from './rich-tools'

/** Rich text in the margin, in the same editor as on the page. */
export function RichField({
  id,
  label,
  value,
  disabled,
  surroundings,
  change,
}: {
  id: string
  label: string
  value: string
  disabled: boolean
  surroundings: readonly ContentDocument[]
  change: (value: string) => void
}) {
  const latest = useRef(change)
  useEffect(() => {
    latest.current = change
  })
  const editor = useEditor({
    extensions: richExtensions,
    content: value,
    editable: !disabled,
    immediatelyRender: false,
    editorProps: { attributes: { id, 'aria-label': label, role: 'textbox', 'aria-multiline': 'true' } },
    onUpdate: ({ editor: now }) => latest.current(richText(now.getHTML())),
  })
  useEffect(() => {
    // What comes from elsewhere (undo, writing on the page) is taken over; what was typed here is there already.
    if (editor !== null && !editor.isFocused && richText(editor.getHTML()) !== value)
      editor.commands.setContent(value, { emitUpdate: false })
  }, [editor, value])
  useEffect(() => editor?.setEditable(!disabled), [editor, disabled])
  return (
    <div className="rich-field">
      {editor === null || disabled ? null : <RichTools editor={editor} label={`${label}: tools`} surroundings={surroundings} />}
      <EditorContent editor={editor} />
    </div>
  )
}
