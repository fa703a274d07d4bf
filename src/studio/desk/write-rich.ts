import { Editor } from '@tiptap/react'
import { richText } from '@/components/rich-text'
import type { NodeId } from '@/core/ids'
import { richExtensions } from './rich-tools'
import type { Writing } from './write-in-place'

/** Rich text in the standard editor, put where the words stand. Links are edited as they are stored, by the id of their page. */
export function writeRich(field: HTMLElement, node: NodeId, prop: string, words: string, { freeze, write, rich }: Writing): void {
  const before = field.innerHTML
  field.innerHTML = ''
  const editor = new Editor({
    element: field,
    extensions: richExtensions,
    content: words,
    autofocus: 'end',
    onUpdate: ({ editor: now }) => write(node, prop, richText(now.getHTML()), false),
  })
  const finish = (value: string) => {
    field.ownerDocument.removeEventListener('keydown', key, true)
    field.ownerDocument.removeEventListener('mousedown', outside, true)
    editor.destroy()
    field.innerHTML = before
    rich(null)
    freeze(null)
    write(node, prop, value, true)
  }
  const outside = (event: MouseEvent) => {
    if (!field.contains(event.target as Node)) finish(richText(editor.getHTML()))
  }
  const key = (event: KeyboardEvent) => {
    if (!field.contains(event.target as Node)) return
    event.stopPropagation()
    if (event.key === 'Escape') finish(richText(editor.getHTML()))
  }
  field.ownerDocument.addEventListener('keydown', key, true)
  field.ownerDocument.addEventListener('mousedown', outside, true)
  rich({ editor, end: () => finish(richText(editor.getHTML())) })
}
