/** What stands before the cents in a column of amounts. */
export type Decimal = '.' | ','

/** What the amounts of a column say of their decimal sign: one of the two; nothing, as none needs one; or not enough. */
export type FoundDecimal = Decimal | 'none' | 'unclear' | 'both'

/** An amount without its currency, its minus in front. Spaces and apostrophes only set its digits in groups. */
function bareOf(text: string): string | null {
  const trimmed = text.trim().replace(/^[(](.*)[)]$/, '-$1')
  const bare = trimmed.replace(/[\s\u00a0\u202f'’_]/g, '').replace(/−/g, '-')
  const match = /^(-?)(?:[A-Za-z]{1,3}|[^\w.,-]{1,3})?(-?)([\d.,]+)(?:[A-Za-z]{1,3}|[^\w.,-]{1,3})?(-?)$/.exec(bare)
  if (match === null) return null
  const [, before = '', inner = '', digits = '', after = ''] = match
  return /\d/.test(digits) ? `${before || inner || after ? '-' : ''}${digits}` : null
}

function saidBy(digits: string): Decimal | 'none' | 'unclear' {
  const [points, commas] = [digits.split('.').length - 1, digits.split(',').length - 1]
  if (points === 0 && commas === 0) return 'none'
  if (points > 0 && commas > 0) return digits.lastIndexOf('.') > digits.lastIndexOf(',') ? '.' : ','
  const sign = points > 0 ? '.' : ','
  const other = points > 0 ? ',' : '.'
  // Twice the same sign sets digits in groups: the other one is the decimal one.
  if (points + commas > 1) return other
  const [whole = '', rest = ''] = digits.replace('-', '').split(sign)
  return rest.length === 3 && /^[1-9]\d{0,2}$/.test(whole) ? 'unclear' : sign
}

/** The decimal sign of a whole column: “12,5” in one line says how “1,234” in another is to be read. */
export function decimalOf(cells: readonly string[]): FoundDecimal {
  const said = new Set(cells.flatMap((cell) => bareOf(cell) ?? []).map(saidBy))
  if (said.has('.') && said.has(',')) return 'both'
  if (said.has('.')) return '.'
  if (said.has(',')) return ','
  return said.has('unclear') ? 'unclear' : 'none'
}

/** “1,234.50”, “1.234,50”, “€ 24”, “-5”, “(5)”: an amount read with this decimal sign; `null` where it is none. */
export function amountOf(text: string, decimal: Decimal): number | null {
  const bare = bareOf(text)
  if (bare === null) return null
  const group = decimal === '.' ? ',' : '.'
  const [whole = '', cents, ...more] = bare.replace('-', '').split(decimal)
  // Groups are of three digits, and only before the decimal sign.
  if (more.length > 0 || !/^\d*$/.test(cents ?? '')) return null
  if (whole.includes(group) && !new RegExp(`^\\d{1,3}(\\${group}\\d{3})+$`).test(whole)) return null
  const value = Number(`${whole.replaceAll(group, '') || '0'}.${cents || '0'}`)
  return Number.isFinite(value) ? (bare.startsWith('-') ? -value : value) : null
}
