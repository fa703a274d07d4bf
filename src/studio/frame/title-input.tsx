'use client'

/** The name of a thing as the title of its sheet, written where it stands: of one line, which is broken where it is long. */
export function TitleInput({ label, value, change }: { label: string; value: string; change: (value: string) => void }) {
  return (
    <h1 className="title-line" data-words={value}>
      <textarea
        className="title-input"
        aria-label={label}
        rows={1}
        value={value}
        maxLength={120}
        onChange={({ target }) => change(target.value.replace(/[\r\n]+/g, ' '))}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || event.nativeEvent.isComposing) return
          event.preventDefault()
          event.currentTarget.blur()
        }}
      />
    </h1>
  )
}
