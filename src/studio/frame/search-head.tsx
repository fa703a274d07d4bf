'use client'

import { Input } from 'antd'

/** The head of a sheet that is a list: its title, and a search that empties with its field. */
export function SearchHead({
  title,
  placeholder,
  label,
  search,
}: {
  title: string
  placeholder: string
  label: string
  search: (words: string) => void
}) {
  return (
    <header className="sheet-head">
      <h1>{title}</h1>
      <Input.Search
        className="narrow"
        placeholder={placeholder}
        aria-label={label}
        maxLength={120}
        allowClear
        onSearch={search}
        onChange={({ target }) => target.value === '' && search('')}
      />
    </header>
  )
}
