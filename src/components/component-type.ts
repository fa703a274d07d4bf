import * as z from 'zod'
import type { ContentNode, DocumentKind, Props, PropValue } from '@/core/document'
import { markerSchema } from '@/core/events'
import { own } from '@/core/own'
import { readUrl } from '@/core/url'
import { pageAddressSchema } from '@/core/page-address'
import { richText } from './rich-text'

/** How a field is filled in, in the margin and in place. */
export type Control =
  | 'line'
  | 'lines'
  | 'rich'
  | 'choice'
  | 'picture'
  | 'film'
  | 'link'
  | 'yesNo'
  | 'document'
  | 'code'
  | 'overrides'
  | 'campaign'
  | 'marker'

export interface Field<Value extends PropValue = PropValue> {
  readonly label: string
  readonly control: Control
  readonly schema: z.ZodType<Value>
  readonly fallback: Value
  readonly choices?: Readonly<Record<string, string>>
  /** The kind of document that a reference names. */
  readonly refersTo?: DocumentKind
}

export type Fields = Readonly<Record<string, Field>>
export type PropsOf<Of extends Fields> = { readonly [Name in keyof Of]: Of[Name] extends Field<infer Value> ? Value : never }

/** Where a person finds a new part, by what they want to do with it; or nowhere, where it only comes with another. */
export const palette = {
  say: 'Say something',
  show: 'Show something',
  layOut: 'Lay it out',
  list: 'List things',
  ask: 'Ask for something',
  again: 'Use again',
  more: 'More of the same',
} as const
export type PaletteGroup = keyof typeof palette

/** What stands in a new part from the beginning, so that it can be seen and written over. */
export type Starter = readonly [type: string, props: Props, inside?: readonly Starter[]]

/** All that may stand in a section, but for these. */
export interface Content {
  readonly contentBut: readonly string[]
}
export const contentBut = (...types: readonly string[]): Content => ({ contentBut: types })

/** What a component type is, but for its look: also what a server needs to check an edit. None of it may be left out. */
export interface ComponentType<Of extends Fields = Fields, Name extends string = string> {
  readonly type: Name
  /** “heading”, as in “the heading “Play it first””. */
  readonly label: string
  readonly fields: Of
  /** Types that may stand directly inside; none for a leaf. */
  readonly holds: readonly string[] | Content
  /** The field whose words stand for the component in a list; `null` where it has no words of its own. */
  readonly excerpt: string | null
  /** Can be pressed, so a click goal can be wired to it: always, never, or as it is filled in. */
  readonly pressable: boolean | ((props: Props) => boolean)
  /** Has a marker besides its own fields: whatever can be pressed on a page, or holds what can. */
  readonly marked: boolean
  /** Stands wherever content stands: in sections, columns and shared components. */
  readonly content: boolean
  readonly palette: PaletteGroup | null
  readonly begins: readonly Starter[]
}

export function componentType<Of extends Fields, const Name extends string>(
  type: ComponentType<Of, Name>,
): ComponentType<Of, Name> {
  return type
}

/** A node's properties as its type wants them: what is missing or no longer allowed gets its fallback. */
export function propsOf<Of extends Fields>(type: Pick<ComponentType<Of>, 'fields'>, node: ContentNode): PropsOf<Of> {
  const read = ([name, field]: [string, Field]) => {
    const parsed = field.schema.safeParse(own(node.props, name))
    return [name, parsed.success ? parsed.data : field.fallback]
  }
  return Object.fromEntries(Object.entries(type.fields).map(read)) as PropsOf<Of>
}

/** Properties as they may be stored, rich text sanitised; or what is wrong with which. */
export function checkProps(
  type: Pick<ComponentType, 'label' | 'fields'>,
  props: Props,
): { ok: true; props: Props } | { ok: false; fault: string } {
  const checked: Record<string, PropValue> = {}
  for (const [name, value] of Object.entries(props)) {
    const field = own(type.fields, name)
    if (field === undefined) return { ok: false, fault: `a ${type.label} has no property “${name}”` }
    const parsed = field.schema.safeParse(value)
    if (!parsed.success)
      return {
        ok: false,
        fault: `the ${field.label.toLowerCase()} of a ${type.label}: ${parsed.error.issues[0]?.message ?? 'not allowed'}`,
      }
    checked[name] = parsed.data
  }
  return { ok: true, props: checked }
}

const words = z.string().max(2000, 'at most 2,000 characters')

export const line = (label: string, fallback = ''): Field<string> => ({ label, control: 'line', schema: words, fallback })
export const lines = (label: string, fallback = ''): Field<string> => ({ label, control: 'lines', schema: words, fallback })
/** Other layouts of the same fields. */
export function arrangement<Code extends string>(choices: Readonly<Record<Code, string>>, fallback: NoInfer<Code>): Field<Code> {
  return choice('Arrangement', choices, fallback)
}

/** Rules or a script, written in an editor for code. */
export const code = (label: string): Field<string> => ({
  label,
  control: 'code',
  schema: z.string().max(20_000, 'at most 20,000 characters'),
  fallback: '',
})

/** The name of a campaign that a document belongs to. */
export const campaign = (): Field<string> => ({
  label: 'Campaign',
  control: 'campaign',
  schema: z.string().max(120),
  fallback: '',
})

/** A name that several components carry, so that a press on any of them is one goal. */
export const marker: Field<string> = {
  label: 'Marker',
  control: 'marker',
  schema: z.union([z.literal(''), markerSchema]),
  fallback: '',
}

/** An amount of money in the currency of the site, or nothing. */
export const amount = (label: string): Field<string> => ({
  label,
  control: 'line',
  schema: z.string().regex(/^(\d{1,6}([.]\d{1,2})?)?$/, 'an amount such as 24 or 24.50, or nothing'),
  fallback: '',
})

/** What one place of a shared component has of its own; see `shared/overrides.ts`. */
export const overrides = (label: string): Field<readonly string[]> => ({
  label,
  control: 'overrides',
  schema: z.array(z.string().max(4000)).max(60),
  fallback: [],
})

export const yesNo = (label: string, fallback = false): Field<boolean> => ({
  label,
  control: 'yesNo',
  schema: z.boolean(),
  fallback,
})

export const rich = (label: string, fallback = ''): Field<string> => ({
  label,
  control: 'rich',
  schema: z.string().max(20_000, 'at most 20,000 characters').transform(richText),
  fallback,
})

export function choice<Code extends string>(
  label: string,
  choices: Readonly<Record<Code, string>>,
  fallback: NoInfer<Code>,
): Field<Code> {
  const codes = Object.keys(choices) as Code[]
  return { label, control: 'choice', schema: z.enum(codes) as unknown as z.ZodType<Code>, fallback, choices }
}

/** The name of a picture in the site's media folder. */
export const picture = (label: string): Field<string> => ({
  label,
  control: 'picture',
  schema: z.string().regex(/^[a-z0-9-]{0,60}$/, 'the name of a picture'),
  fallback: '',
})

/** The name of a film in the media folder. */
export const film = (label: string): Field<string> => ({ ...picture(label), control: 'film' })

/**
 * A page of the site by its id, a place on that page or on this one, or an address outside. Nothing that could run a
 * script. An address outside is kept in its one written form (WHATWG URL), so that it can be followed from anywhere.
 */
export const link = (label: string): Field<string> => ({
  label,
  control: 'link',
  schema: z
    .string()
    .max(500)
    .transform((text, context) => {
      const address = writtenAddress(text)
      if (address !== null && address.length <= 2000) return address
      context.addIssue({ code: 'custom', message: 'a page, a place on the page, or an address that starts with https://' })
      return z.NEVER
    }),
  fallback: '',
})

/** A link as it is kept; `null` where it is none. */
function writtenAddress(text: string): string | null {
  if (/^(page:[a-z0-9-]+(#[a-z0-9-]+)?|#[\w-]*|)$/.test(text)) return text
  const url = readUrl(completed(text.trim()))
  if (url === null || !/^(https?|mailto|tel):$/.test(url.protocol)) return null
  return url.protocol.startsWith('http') && url.hostname === '' ? null : url.href
}

/** `shop.example/cellos` is meant as `https://shop.example/cellos`, `ask@shop.example` as a mail address. */
function completed(text: string): string {
  if (/^[^\s@/:]+@[^\s@/:]+\.[^\s@/:]+$/.test(text)) return `mailto:${text}`
  return /^[\p{L}\p{N}-]+(\.[\p{L}\p{N}-]+)*\.\p{L}{2,}(:\d+)?([/?#]|$)/u.test(text) ? `https://${text}` : text
}

/** Where a page stands on the site. Nothing in it needs escaping, in whatever it is written into. */
export const pagePath = (label: string): Field<string> => ({
  label,
  control: 'line',
  schema: pageAddressSchema,
  fallback: '/',
})

/** Another document by its id: a menu, a call to action. */
export const documentRef = (label: string, refersTo: DocumentKind): Field<string> => ({
  label,
  control: 'document',
  refersTo,
  schema: z.string().regex(/^[a-z0-9-]{0,40}$/),
  fallback: '',
})
