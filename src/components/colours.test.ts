import { inColour } from './colours'

const colours = { accent: 'Brass', deep: '', light: 'Cream', dark: 'Night' }

test.each([
  ['accent', 'Accent button', 'Brass button'],
  ['dark', 'Dark ground', 'Night ground'],
  ['deep', 'Deep', 'Deep'],
  ['quiet', 'Outline', 'Outline'],
  ['constructor', 'Anything', 'Anything'],
])('%s: “%s” is “%s” here', (code, label, words) => {
  expect(inColour(code, label, colours)).toBe(words)
})
