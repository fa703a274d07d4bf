import { componentType } from '../component-type'

export const mainPart = componentType({
  type: 'mainPart',
  label: 'main part',
  fields: {},
  holds: ['section'],
  excerpt: null,
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})
