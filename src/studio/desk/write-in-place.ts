import type { Editor } from '@tiptap/react'
import type { ContentDocument, PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { componentTypes } from '@/components/types'

/** The editor of rich text that is at work, for the tools above the page, and the way out of it. */
export interface RichWriting {
  readonly editor: Editor
  end(): void
}

export interface Writing {
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
  if (control === 'rich')
    void import('./write-rich').then(({ writeRich }) => writeRich(field, node, prop, String(content.props[prop] ?? ''), writing))
  else writePlain(field, node, prop, control === 'line', writing)
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
