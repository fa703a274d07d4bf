import type * as z from 'zod'
import type { DocumentId, GoalId, SegmentId, TestId, VersionId } from '../../ids'
import type { Visitor } from '../visitor'

/** What the site has that conditions speak of, and how it is called. */
export interface Surroundings {
  readonly pages: readonly { readonly id: DocumentId; readonly title: string }[]
  readonly pageTypes: readonly string[]
  /** Those that can be told in a browser. */
  readonly goals: readonly { readonly id: GoalId; readonly name: string }[]
  /** What the site says of its visitors. */
  readonly attributes: readonly { readonly name: string; readonly values: readonly string[] }[]
  /** Tests that have drawn visitors, with what they were given. */
  readonly tests: readonly {
    readonly id: TestId
    readonly name: string
    readonly versions: readonly { readonly id: VersionId; readonly name: string }[]
  }[]
  /** Conditions that have a name of their own. */
  readonly segments: readonly { readonly id: SegmentId; readonly name: string }[]
  /** ISO 3166-2, with names. */
  readonly regions: readonly { readonly code: string; readonly name: string }[]
}

export interface Option {
  readonly value: string
  readonly label: string
}

/** A word of the sentence that can be changed where it stands. `put` answers `null` to what cannot be. */
export type Word<C> =
  | {
      readonly control: 'choice'
      readonly label: string
      readonly value: string
      readonly options: readonly Option[]
      /** What is chosen is somebody’s own name for it. */
      readonly quoted?: boolean
      readonly put: (value: string) => C | null
    }
  | {
      readonly control: 'several'
      readonly label: string
      readonly values: readonly string[]
      readonly options: readonly Option[]
      readonly put: (values: readonly string[]) => C | null
    }
  | {
      readonly control: 'text'
      readonly label: string
      readonly value: string
      readonly most: number
      readonly put: (value: string) => C | null
    }
  | {
      readonly control: 'number'
      readonly label: string
      readonly value: number
      readonly least: number
      readonly most: number
      readonly put: (value: number) => C | null
    }
  | {
      readonly control: 'day'
      readonly label: string
      /** As in 2026-03-02 (ISO 8601); `null`: none is said. */
      readonly value: string | null
      readonly put: (value: string | null) => C | null
    }

/** All that a kind of comparison has to say for itself, in one place. */
export interface ComparisonKind<C> {
  /** As it is chosen, before what it is compared with. */
  readonly label: string
  /** What follows: words, and those that can be changed. */
  readonly sentence: (comparison: C, site: Surroundings) => readonly (string | Word<C>)[]
  readonly holds: (comparison: C, visitor: Visitor) => boolean
  readonly begins: (site: Surroundings) => C | null
  /** Whether what is remembered of visits can say how many of them it would have held for. */
  readonly remembered: boolean
}

/** A kind with the schema of what it keeps. */
export function comparisonKind<Schema extends z.ZodType<{ kind: string }>>(
  schema: Schema,
  kind: ComparisonKind<Readonly<z.infer<Schema>>>,
): ComparisonKind<Readonly<z.infer<Schema>>> & { readonly schema: Schema } {
  return { schema, ...kind }
}

/** One of a list, by its code. */
export function oneOf<Code extends string, C>(
  label: string,
  value: Code,
  words: Readonly<Record<Code, string>>,
  put: (code: Code) => C,
): Word<C> {
  const codes = Object.keys(words) as Code[]
  return {
    control: 'choice',
    label,
    value,
    options: codes.map((code) => ({ value: code, label: words[code] })),
    put: (chosen) => {
      const code = codes.find((one) => one === chosen)
      return code === undefined ? null : put(code)
    },
  }
}

/** Something written; nothing is no answer. */
export function written<C>(label: string, value: string, most: number, put: (text: string) => C): Word<C> {
  return {
    control: 'text',
    label,
    value,
    most,
    put: (text) => (text.trim() === '' || text.trim().length > most ? null : put(text.trim())),
  }
}

export function numbered<C>(
  label: string,
  value: number,
  { least, most }: { readonly least: number; readonly most: number },
  put: (value: number) => C,
): Word<C> {
  return {
    control: 'number',
    label,
    value,
    least,
    most,
    put: (number) => (Number.isInteger(number) && number >= least && number <= most ? put(number) : null),
  }
}

const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })

/** How it reads, without anything to be changed. */
export function wordsOf<C>(sentence: readonly (string | Word<C>)[]): string {
  return sentence
    .map((part) => {
      if (typeof part === 'string') return part
      if (part.control === 'text') return `“${part.value}”`
      if (part.control === 'number') return String(part.value)
      if (part.control === 'day') return part.value === null ? 'any day' : dayFormat.format(new Date(part.value))
      const named = (value: string) => part.options.find((option) => option.value === value)?.label ?? value
      if (part.control === 'choice') return part.quoted === true ? `“${named(part.value)}”` : named(part.value)
      const names = part.options.filter(({ value }) => part.values.includes(value)).map(({ label }) => label)
      return names.length < 2 ? (names[0] ?? 'none') : `${names.slice(0, -1).join(', ')} or ${names.at(-1) ?? ''}`
    })
    .join(' ')
}
