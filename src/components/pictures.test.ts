import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { filmNames, pictureNames } from './pictures'

test('every picture that can be chosen ships with the site', () => {
  const shipped = readdirSync(join(__dirname, '..', 'site', 'media'))
  const wanted = [...pictureNames.map((name) => `${name}.svg`), ...filmNames.map((name) => `${name}.webm`)]
  expect(shipped).toEqual(expect.arrayContaining(wanted))
})
