/** Which of two numbers in a date is the day: 03/04/2026 is one or the other. */
export const dayOrders = ['dayFirst', 'monthFirst'] as const
export type DayOrder = (typeof dayOrders)[number]

/** What the dates of a column say of it: one of the two; nothing, as none needs it; or not enough. */
export type FoundDayOrder = DayOrder | 'none' | 'unclear' | 'both'

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const CLOCK = String.raw`(?:,?\s+(?:at\s+)?(\d{1,2}):(\d{2})(?::(\d{2}))?\s*([ap])?\.?(?:m\.?)?)?`
/** 3/4/2026, 3-4-26, 03.04.2026 2:05 pm */
const NUMBERS = new RegExp(String.raw`^(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})${CLOCK}$`, 'i')
/** 2026/3/4, 2026.03.04 */
const YEAR_FIRST = new RegExp(String.raw`^(\d{4})([./-])(\d{1,2})\2(\d{1,2})${CLOCK}$`, 'i')
/** 4 Mar 2026, 4. March 2026 */
const DAY_NAMED = new RegExp(String.raw`^(\d{1,2})(?:st|nd|rd|th)?\.?[\s-]+([a-z]{3,9})\.?,?[\s-]+(\d{4})${CLOCK}$`, 'i')
/** Mar 4, 2026 */
const MONTH_NAMED = new RegExp(String.raw`^([a-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})${CLOCK}$`, 'i')

interface Numbers {
  readonly first: number
  readonly second: number
  readonly year: string
  readonly clock: readonly (string | undefined)[]
  /** Points stand in dates only where the day comes first. */
  readonly sign: string
}

function numbersOf(text: string): Numbers | null {
  const match = NUMBERS.exec(text.trim())
  if (match === null) return null
  const [, first = '', sign = '', second = '', year = '', ...clock] = match
  return { first: Number(first), second: Number(second), year: year.length === 2 ? `20${year}` : year, clock, sign }
}

/** What a whole column of dates says of which number is the day: “25/3” in one line says how “3/4” in another is to be read. */
export function dayOrderOf(cells: readonly string[]): FoundDayOrder {
  let [day, month, open] = [false, false, false]
  for (const cell of cells) {
    const found = numbersOf(cell)
    if (found === null || found.sign === '.') continue
    if (found.first > 12 && found.second <= 12) day = true
    else if (found.second > 12 && found.first <= 12) month = true
    else if (found.first !== found.second) open = true
  }
  if (day && month) return 'both'
  if (day) return 'dayFirst'
  if (month) return 'monthFirst'
  return open ? 'unclear' : 'none'
}

/**
 * A date as people write it, with or without a time of day, in the form of ISO 8601 without a zone; `null` where it is none
 * of the common forms. Whether there is such a day is not asked here.
 */
export function isoOf(text: string, order: DayOrder): string | null {
  const bare = text.trim()
  const numbers = numbersOf(bare)
  if (numbers !== null) {
    const { first, second, year, clock, sign } = numbers
    const isDayFirst = sign === '.' || order === 'dayFirst'
    return written(year, isDayFirst ? second : first, isDayFirst ? first : second, clock)
  }
  const [, year, , month, day, ...clock] = YEAR_FIRST.exec(bare) ?? []
  if (year !== undefined) return written(year, Number(month), Number(day), clock)
  const [, first = '', name = '', named, ...at] = DAY_NAMED.exec(bare) ?? []
  if (named !== undefined) return written(named, monthNamed(name), Number(first), at)
  const [, before = '', number = '', stood, ...then] = MONTH_NAMED.exec(bare) ?? []
  return stood === undefined ? null : written(stood, monthNamed(before), Number(number), then)
}

const FULL = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
]

/** Counted from one; 0 where no month is called so. */
function monthNamed(name: string): number {
  const small = name.toLowerCase()
  return small.length === 3 || small === 'sept' ? MONTHS.indexOf(small.slice(0, 3)) + 1 : FULL.indexOf(small) + 1
}

function written(year: string, month: number, day: number, clock: readonly (string | undefined)[]): string | null {
  const two = (number: number) => String(number).padStart(2, '0')
  const date = `${year}-${two(month)}-${two(day)}`
  const [hours, minutes = '00', seconds = '00', half] = clock
  if (hours === undefined) return date
  const hour = hourOf(Number(hours), half?.toLowerCase())
  return hour === null ? null : `${date} ${two(hour)}:${minutes}:${seconds}`
}

function hourOf(hour: number, half: string | undefined): number | null {
  if (half === undefined) return hour
  if (hour < 1 || hour > 12) return null
  return (hour % 12) + (half === 'p' ? 12 : 0)
}
