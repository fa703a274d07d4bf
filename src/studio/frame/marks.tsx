/** Versions are told apart by name, colour and mark at once; the original is graphite with a hollow circle. */
const marks = [
  { colour: '#4A4D52', path: 'M8 3a5 5 0 1 0 0 10A5 5 0 0 0 8 3Zm0 2a3 3 0 1 1 0 6 3 3 0 0 1 0-6Z' },
  { colour: '#9A6A0B', path: 'M8 2l6 6-6 6-6-6z' },
  { colour: '#1F6F6B', path: 'M3 3h10v10H3z' },
  { colour: '#7A3E78', path: 'M8 2l6.500 11.500h-13z' },
  { colour: '#9B4430', path: 'M6 2h4v4h4v4h-4v4H6v-4H2V6h4z' },
  { colour: '#3F5F82', path: 'M8 14L1.500 2.500h13z' },
  { colour: '#5E6B1E', path: 'M2 5h12v6H2z' },
] as const

export function colourOf(index: number): string {
  return marks[index === 0 ? 0 : ((index - 1) % (marks.length - 1)) + 1]?.colour ?? marks[0].colour
}

export function markPath(index: number): string {
  return marks[index === 0 ? 0 : ((index - 1) % (marks.length - 1)) + 1]?.path ?? marks[0].path
}

export function VersionMark({ index }: { index: number }) {
  return (
    <svg className="version-mark" width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
      <path d={markPath(index)} fill={colourOf(index)} fillRule="evenodd" />
    </svg>
  )
}
