import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { pictureNames } from './pictures'

test('every picture that can be chosen ships with the site', () => {
  const shipped = readdirSync(join(__dirname, '..', 'site', 'media')).map((file) => file.replace('.svg', ''))
  expect(shipped).toEqual(expect.arrayContaining([...pictureNames]))
})
