import { Temporal } from 'temporal-polyfill'

/** A day, as in 2026-03-02 (ISO 8601). */
export type Day = string

/** The days and clocks of one time zone: the site's, in which everything is counted, shown and read. */
export interface Calendar {
  /** A name of the IANA database. */
  readonly zone: string
  dayOf(at: Date): Day
  /** By this zone’s clock: the day, Monday as 1 and Sunday as 7 (ISO 8601), 0 to 23. */
  clockOf(at: Date): { readonly day: Day; readonly weekday: number; readonly hour: number }
  /** So many days, the one of `now` the last of them. */
  lastDays(many: number, now: Date): readonly Day[]
  /** The moment at which a day begins: not always midnight. */
  beginOf(day: Day): Date
  /** The moment at which the day after it begins. */
  endOf(day: Day): Date
  /**
   * A moment as people write it: “2026-03-02 10:00” by this zone's clock, with an offset or a Z by that, a day alone at its
   * noon. A clock time that a change of clocks leaves out is as much later; one that it repeats is the first of the two.
   *
   * @returns `null` for what is no moment: 2026-02-30, 25:00
   */
  read(text: string): { readonly at: Date; readonly isDay: boolean } | null
  /** A moment by this zone’s clock, as in 2026-03-02T10:00. */
  write(at: Date): string
}

const QUARTER = 900_000
/** A day of days is asked for again and again; beyond these, memory would be paid for nothing. */
const REMEMBERED = 20_000

/** @throws {RangeError} for what is no time zone */
export function calendarOf(zone: string): Calendar {
  const format = new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' })
  // Clocks differ from UTC by whole quarters of an hour, so that no day begins within one.
  const byQuarter = new Map<number, Day>()
  const clocks = new Map<number, ReturnType<Calendar['clockOf']>>()
  const dayOf = (at: Date): Day => {
    const quarter = Math.floor(at.getTime() / QUARTER)
    const known = byQuarter.get(quarter)
    if (known !== undefined) return known
    if (byQuarter.size >= REMEMBERED) byQuarter.clear()
    const day = format.format(at)
    byQuarter.set(quarter, day)
    return day
  }
  const begin = (day: Temporal.PlainDate) => new Date(day.toZonedDateTime(zone).epochMilliseconds)
  return {
    zone,
    dayOf,
    clockOf(at) {
      const quarter = Math.floor(at.getTime() / QUARTER)
      const known = clocks.get(quarter)
      if (known !== undefined) return known
      if (clocks.size >= REMEMBERED) clocks.clear()
      const { dayOfWeek, hour } = Temporal.Instant.fromEpochMilliseconds(at.getTime()).toZonedDateTimeISO(zone)
      const clock = { day: dayOf(at), weekday: dayOfWeek, hour }
      clocks.set(quarter, clock)
      return clock
    },
    lastDays(many, now) {
      const today = Temporal.PlainDate.from(dayOf(now))
      return Array.from({ length: many }, (_, index) => today.subtract({ days: many - 1 - index }).toString())
    },
    beginOf: (day) => begin(Temporal.PlainDate.from(day)),
    endOf: (day) => begin(Temporal.PlainDate.from(day).add({ days: 1 })),
    write: (at) =>
      Temporal.Instant.fromEpochMilliseconds(at.getTime())
        .toZonedDateTimeISO(zone)
        .toPlainDateTime()
        .toString({ smallestUnit: 'minute' }),
    read(text) {
      const match = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:[.,]\d{1,9})?)?) ?(Z|[+-]\d{2}:?\d{2})?)?$/i.exec(
        text.trim(),
      )
      if (match === null) return null
      const [, day = '', clock, offset] = match
      try {
        const whole = `${day}T${(clock ?? '12:00').replace(',', '.')}`
        const at =
          offset === undefined
            ? Temporal.PlainDateTime.from(whole, { overflow: 'reject' }).toZonedDateTime(zone, { disambiguation: 'compatible' })
                .epochMilliseconds
            : Temporal.Instant.from(`${whole}${offset.toUpperCase()}`).epochMilliseconds
        return { at: new Date(at), isDay: clock === undefined }
      } catch {
        return null
      }
    },
  }
}
