'use client'

/** The name of a thing as the title of its sheet, written where it stands. */
export function TitleInput({ label, value, change }: { label: string; value: string; change: (value: string) => void }) {
  return (
    <h1 className="title-line">
      <input
        className="title-input"
        aria-label={label}
        value={value}
        maxLength={120}
        onChange={({ target }) => change(target.value)}
      />
    </h1>
  )
}
