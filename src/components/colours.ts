import type { Colours } from '@/core/identity'
import { own } from '@/core/own'

/** What the colours of a site are called where it has no names of its own for them. */
const plain: Colours = { accent: 'Accent', deep: 'Deep', light: 'Light', dark: 'Dark' }

/** A choice of colour in the words of the site: “Accent button” is “Brass button” where the site calls that colour so. */
export function inColour(code: string, label: string, colours: Colours): string {
  const [before, name] = [own({ ...plain }, code), own({ ...colours }, code)]
  return before === undefined || name === undefined || name === '' ? label : label.replace(before, name)
}
