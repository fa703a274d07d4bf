import fc from 'fast-check'
import { asAsked, isOwnAddress, pageAddressSchema, readAddress } from './page-address'
import { methodsOfRoute, siteRoutes } from './site-routes'

const isTaken = (address: string) => pageAddressSchema.safeParse(address).success

test.each([
  ['/', true],
  ['/about', true],
  ['/About/Team.html', true],
  ['/über-uns', true],
  ['/訪問/楽器', true],
  ['/a_b~c,d;e=f@g:h!(i)*$+', true],
  ['/media', true],
  ['/media/a/b', true],
  [`/${'a'.repeat(399)}`, true],
  [`/${'a'.repeat(400)}`, false],
  ['', false],
  ['about', false],
  ['//', false],
  ['/a//b', false],
  ['/a/', false],
  ['/a/../b', false],
  ['/.', false],
  ['/a b', false],
  ['/a%20b', false],
  ['/a?b', false],
  ['/a#b', false],
  ['/a\\b', false],
  ['/a"b', false],
  ["/a'b", false],
  ['/a&b', false],
  ['/a\u202eb', false],
  ['/a\ud800', false],
  ['/healthz', false],
  ['/out', false],
  ['/report', false],
  ['/collect', false],
  ['/look/anything/at-all', false],
  ['/media/picture', false],
  ['/forms/a/b', false],
])('%p may be the address of a page: %p', (address, may) => {
  expect(isTaken(address)).toBe(may)
})

test('no route of the site can be taken, whatever stands in its places', () => {
  const part = fc.stringMatching(/^[a-z0-9]{1,8}$/)
  fc.assert(
    fc.property(fc.constantFrom(...Object.values(siteRoutes)), part, part, part, ({ at }, a, b, c) => {
      const places = [a, b, c]
      const address = at.replace(/:\w+\??/g, () => places.pop() ?? 'x').replace('*', `${a}/${b}`)
      expect([isTaken(address), isOwnAddress(address), methodsOfRoute(address) !== null]).toEqual([false, true, true])
    }),
  )
})

test('an address that was asked for is read as it is kept, however it was encoded', () => {
  const kept = fc.stringMatching(/^\/[a-zA-Z0-9éßñ訪問.~-]{1,20}$/u).filter(isTaken)
  fc.assert(
    fc.property(kept, (address) => {
      expect(readAddress(asAsked(address))).toBe(address.normalize())
      expect(readAddress(`${asAsked(address)}/`)).toBe(address.normalize())
      expect(asAsked(address)).toMatch(/^[\x21-\x7e]+$/)
    }),
  )
  expect(readAddress('/%61bout')).toBe('/about')
  expect(readAddress('/%c3%a9')).toBe(readAddress('/e%CC%81'))
  expect(readAddress('/%c3')).toBeNull()
})
