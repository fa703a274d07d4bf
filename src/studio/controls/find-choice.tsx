'use client'

import { useCombobox } from 'downshift'
import { useId, useLayoutEffect, useState } from 'react'
import type { Option } from './choices'
import { placedBy } from './placed'

/** One of many, found by a few of its words. With `value` null it is a command: what is chosen is done, and nothing stays. */
export function FindChoice<Value extends string | null>({
  value,
  options,
  change,
  placeholder,
  disabled,
  id,
  size = 'usual',
  className = '',
  'aria-label': label,
}: {
  readonly value: Value | null
  readonly options: readonly Option<Value>[]
  readonly change: (value: Value) => void
  readonly placeholder?: string
  readonly disabled?: boolean
  readonly id?: string
  readonly size?: 'small' | 'usual'
  readonly className?: string
  readonly 'aria-label'?: string
}) {
  const made = useId()
  const [inputId, listId] = [id ?? `${made}-words`, `${made}-list`]
  const chosen = options.find((one) => one.value === value) ?? null
  // What is looked for while the list is open; null while it says what is chosen.
  const [words, setWords] = useState<string | null>(null)
  const found = fitting(options, words ?? '')
  const box = useCombobox<Option<Value>>({
    id: made,
    inputId,
    menuId: listId,
    items: [...found],
    itemToString: (one) => one?.label ?? '',
    selectedItem: chosen,
    inputValue: words ?? chosen?.label ?? '',
    defaultHighlightedIndex: 0,
    stateReducer: (state, { type, changes }) => ({
      ...changes,
      // Escape and leaving close the list, and leave what was chosen.
      selectedItem: changes.selectedItem ?? state.selectedItem,
      // Opened to look, it begins at what is chosen; by typing, at the first that fits.
      ...(changes.isOpen === true && !state.isOpen && type !== useCombobox.stateChangeTypes.InputChange && chosen !== null
        ? { highlightedIndex: found.indexOf(chosen) }
        : {}),
    }),
    onSelectedItemChange: ({ selectedItem }) => selectedItem !== null && change(selectedItem.value),
    // Opened by typing, it keeps what was typed.
    onIsOpenChange: ({ isOpen }) => isOpen || setWords(null),
  })
  usePlaced(box.isOpen, inputId, listId)
  return (
    <span className={`find-choice ${className}`}>
      <input
        className={`control ${size}`}
        disabled={disabled}
        placeholder={placeholder}
        {...box.getInputProps({
          ...(label === undefined ? {} : { 'aria-label': label, 'aria-labelledby': undefined }),
          ...(id === undefined ? {} : { 'aria-labelledby': undefined }),
          onFocus: ({ currentTarget }) => currentTarget.select(),
          onChange: ({ currentTarget }) => setWords(currentTarget.value),
          onKeyDown: (event) => {
            // A closed list has no use for Escape: whatever lies around it may close.
            if (event.key === 'Escape' && !box.isOpen) Object.assign(event.nativeEvent, { preventDownshiftDefault: true })
          },
        })}
      />
      <ul
        popover="manual"
        className="found-choices"
        {...box.getMenuProps({
          ...(label === undefined ? {} : { 'aria-label': label, 'aria-labelledby': undefined }),
        })}
      >
        {box.isOpen &&
          found.map((one, index) => (
            <li
              key={one.value ?? ''}
              {...box.getItemProps({ item: one, index })}
              className={`${index === box.highlightedIndex ? 'marked' : ''} ${one === chosen ? 'chosen' : ''}`}
            >
              {one.label}
            </li>
          ))}
        {box.isOpen && found.length === 0 ? <li className="quiet">Nothing here has these words.</li> : null}
      </ul>
    </span>
  )
}

/** Those with all the words; those that begin with the first of them stand in front. */
function fitting<Value>(options: readonly Option<Value>[], words: string): readonly Option<Value>[] {
  const wanted = words.trim().toLowerCase().split(/\s+/)
  const named = options.map((one) => ({ one, name: one.label.toLowerCase() }))
  const fit = named.filter(({ name }) => wanted.every((word) => name.includes(word)))
  const begins = ({ name }: { name: string }) => name.startsWith(wanted[0] ?? '')
  return [...fit.filter(begins), ...fit.filter((one) => !begins(one))].map(({ one }) => one)
}

/** The list lies over everything, under its field or above it, as there is room, and goes where its field goes. */
function usePlaced(isOpen: boolean, fieldId: string, listId: string) {
  useLayoutEffect(() => {
    const [field, list] = [document.getElementById(fieldId), document.getElementById(listId)]
    if (!isOpen || field === null || list === null) return
    const place = () => Object.assign(list.style, placedBy(field.getBoundingClientRect(), { widest: 420, highest: 320 }))
    const moved = ({ target }: Event) => target !== list && place()
    place()
    list.showPopover()
    window.addEventListener('scroll', moved, true)
    window.addEventListener('resize', moved)
    return () => {
      list.hidePopover()
      window.removeEventListener('scroll', moved, true)
      window.removeEventListener('resize', moved)
    }
  }, [isOpen, fieldId, listId])
}
