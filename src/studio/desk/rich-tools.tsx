'use client'

import { type Editor, useEditorState } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { Button } from '../controls/button'
import { OpensUnder } from '../controls/opens-under'
import { useId } from 'react'
import type { ContentDocument } from '@/core/document'
import { LinkControl } from './link-control'

/** Rich text holds what the allow-list of the site lets through, and nothing else. */
export const richExtensions = [
  StarterKit.configure({
    heading: false,
    code: false,
    codeBlock: false,
    blockquote: false,
    strike: false,
    underline: false,
    horizontalRule: false,
    link: { protocols: ['page'], openOnClick: false, autolink: false, HTMLAttributes: { target: null, rel: null } },
  }),
]

/** What can be done with the words being written. Keeps the caret where it is. */
export function RichTools({
  editor,
  label,
  surroundings,
}: {
  editor: Editor
  label: string
  surroundings: readonly ContentDocument[]
}) {
  const linkId = useId()
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      bulletList: now.isActive('bulletList'),
      orderedList: now.isActive('orderedList'),
      link: String(now.getAttributes('link').href ?? ''),
    }),
  })
  const tool = (label: string, active: boolean, act: () => void) => (
    <Button
      size="small"
      look={active ? 'primary' : 'plain'}
      aria-pressed={active}
      onMouseDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {label}
    </Button>
  )
  const chain = () => editor.chain().focus()
  return (
    <div className="rich-tools" role="toolbar" aria-label={label}>
      {tool('Bold', on.bold, () => chain().toggleBold().run())}
      {tool('Italic', on.italic, () => chain().toggleItalic().run())}
      {tool('List', on.bulletList, () => chain().toggleBulletList().run())}
      {tool('Numbered', on.orderedList, () => chain().toggleOrderedList().run())}
      <OpensUnder
        button={{
          size: 'small',
          look: on.link === '' ? 'plain' : 'primary',
          'aria-pressed': on.link !== '',
          onMouseDown: (event) => event.preventDefault(),
          children: on.link === '' ? 'Link' : 'Change the link',
        }}
        label="Where the words lead"
        content={(close) => (
          <div className="link-popover">
            <LinkControl
              id={linkId}
              value={on.link}
              disabled={false}
              surroundings={surroundings}
              change={(link) => {
                if (link === '') editor.chain().unsetLink().run()
                else editor.chain().extendMarkRange('link').setLink({ href: link }).run()
              }}
            />
            <Button
              size="small"
              onClick={() => {
                close()
                editor.commands.focus()
              }}
            >
              Done
            </Button>
          </div>
        )}
      />
    </div>
  )
}
