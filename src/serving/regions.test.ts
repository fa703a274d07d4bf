import { regionAt, regionName, regions } from './regions'

test.each([
  ['192.0.2.1', 'XP-AL'],
  ['192.0.2.200', 'XP-FE'],
  ['::ffff:203.0.113.9', 'XP-ST'],
  ['2001:db8:4::7', 'XP-LO'],
  ['127.0.0.1', null],
  ['2001:db8:99::1', null],
  ['constructor', null],
  ['', null],
  ['192.0.2.1, 203.0.113.9', null],
])('%s is in %s', (address, code) => expect(regionAt(address)).toBe(code))

test('codes are of ISO 3166-2, in a country that is nobody’s', () => {
  for (const { code, name } of regions) {
    expect(code).toMatch(/^X[A-Z]-[A-Z0-9]{1,3}$/)
    expect(regionName(code)).toBe(name)
  }
  expect(regionName('XP-ZZ')).toBe('XP-ZZ')
})
