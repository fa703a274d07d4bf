import { code, componentType } from '../component-type'

/** Code that a variant brings along. Only administrators may write it, and only where the site allows scripts. */
export const script = componentType({
  type: 'script',
  label: 'script',
  fields: { code: code('Script') },
  holds: [],
  excerpt: 'code',
  pressable: false,
  marked: false,
  content: true,
  palette: null,
  begins: [],
})
