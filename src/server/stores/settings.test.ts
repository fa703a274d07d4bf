import { settingsSchema } from './settings'

test('settings that were kept are always read again: a zone that is not known here is UTC, and takes nothing with it', () => {
  expect(settingsSchema.parse({ timeZone: 'Mars/Olympus', currency: 'CHF' })).toMatchObject({ timeZone: 'UTC', currency: 'CHF' })
  expect(settingsSchema.parse({})).toMatchObject({ timeZone: 'UTC', identity: { colours: { accent: '' } } })
})
