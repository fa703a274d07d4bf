import * as z from 'zod'

const colourName = z.string().trim().max(30, 'at most 30 characters').default('')

/** What a site calls itself, wherever it says so: data of the site, and of nothing else here. */
export const identitySchema = z.object({
  name: z.string().trim().max(80, 'at most 80 characters').default(''),
  /** A language tag (BCP 47): how pages are to be read aloud, hyphenated and found. */
  language: z
    .string()
    .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8}){0,3}$/, 'a language tag such as en, de or pt-BR (BCP 47)')
    .default('en'),
  /** The picture beside its name; empty where it has none. */
  mark: z
    .string()
    .regex(/^[a-z0-9-]{0,60}$/, 'the name of a picture')
    .default(''),
  /** What it calls the colours of its look; empty where it says nothing of one. */
  colours: z.object({ accent: colourName, deep: colourName, light: colourName, dark: colourName }).prefault({}),
  /** A sentence at the foot of every page. */
  smallPrint: z.string().trim().max(300, 'at most 300 characters').default(''),
})
export type Identity = Readonly<z.infer<typeof identitySchema>>
export type Colours = Readonly<Identity['colours']>

/** A site that has not been named yet. */
export const nameless: Identity = identitySchema.parse({})
