import { Editor } from '@tiptap/react'
import type { ContentDocument, PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { richText } from '@/components/rich-text'
import { componentTypes } from '@/components/types'
import { richExtensions } from './rich-tools'

/** The editor of rich text that is at work, for the tools above the page, and the way out of it. */
export interface RichWriting {
  readonly editor: Editor
  end(): void
}

interface Writing {
  freeze(document: ContentDocument | null): void
  write(node: NodeId, prop: string, value: PropValue, done: boolean): void
  rich(writing: RichWriting | null): void
}

/**
 * Words are typed into the page itself. The frame stands still meanwhile, so that the caret is not disturbed; what was
 * there is put back before the frame goes on, so that React finds what it left.
 */
export function beginWriting(field: HTMLElement, node: NodeId, document: ContentDocument, writing: Writing): void {
  const prop = field.dataset.f ?? ''
  const content = document.nodes[node]
  const control = componentTypes.get(content?.type ?? '')?.fields[prop]?.control
  if (content === undefined || control === undefined || field.isContentEditable || field.querySelector('[contenteditable]'))
    return
  writing.freeze(document)
  if (control === 'rich') writeRich(field, node, prop, String(content.props[prop] ?? ''), writing)
  else writePlain(field, node, prop, control === 'line', writing)
}

/** Rich text in the standard editor, put where the words stand. Links are edited as they are stored, by the id of their page. */
function writeRich(field: HTMLElement, node: NodeId, prop: string, words: string, { freeze, write, rich }: Writing): void {
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

function writePlain(field: HTMLElement, node: NodeId, prop: string, oneLine: boolean, { freeze, write }: Writing): void {
  const before = field.innerHTML
  const valueOf = () => field.innerText.replace(/\s+$/, '')
  const first = valueOf()
  field.setAttribute('contenteditable', 'plaintext-only')
  field.focus()
  const range = field.ownerDocument.createRange()
  range.selectNodeContents(field)
  field.ownerDocument.defaultView?.getSelection()?.removeAllRanges()
  field.ownerDocument.defaultView?.getSelection()?.addRange(range)
  const typed = () => write(node, prop, valueOf(), false)
  const finish = (value: string) => {
    field.removeEventListener('input', typed)
    field.removeEventListener('keydown', key)
    field.removeEventListener('blur', leave)
    field.removeAttribute('contenteditable')
    field.innerHTML = before
    freeze(null)
    write(node, prop, value, true)
  }
  const leave = () => finish(valueOf())
  const key = (event: KeyboardEvent) => {
    event.stopPropagation()
    if (event.key === 'Escape') finish(first)
    else if (event.key === 'Enter' && oneLine) {
      event.preventDefault()
      finish(valueOf())
    }
  }
  field.addEventListener('input', typed)
  field.addEventListener('keydown', key)
  field.addEventListener('blur', leave)
}
