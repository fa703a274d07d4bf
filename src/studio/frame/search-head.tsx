'use client'

/** The head of a sheet that is a list: its title, and a search that empties with its field. */
export function SearchHead({
  title,
  placeholder,
  label,
  search,
  value = '',
}: {
  title: string
  placeholder: string
  label: string
  search: (words: string) => void
  /** What is looked for already. */
  value?: string
}) {
  return (
    <header className="sheet-head">
      <h1>{title}</h1>
      <form
        role="search"
        onSubmit={(event) => {
          event.preventDefault()
          search(String(new FormData(event.currentTarget).get('words') ?? ''))
        }}
      >
        <input
          type="search"
          name="words"
          className="control"
          placeholder={placeholder}
          aria-label={label}
          maxLength={120}
          defaultValue={value}
          onChange={({ target }) => target.value === '' && search('')}
        />
        <button type="submit">Find</button>
      </form>
    </header>
  )
}
