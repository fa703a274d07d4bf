import { FileFault } from './fault'
import { readOpml, writeOpml, type OutlineFile } from './opml'

const menu: OutlineFile = {
  title: 'Main & more',
  items: [
    {
      text: 'Instruments',
      url: '/instruments',
      items: [{ text: '“Cello” <new>', url: '/instruments/cello?a=1&b=2', items: [] }],
    },
    { text: '2', url: 'https://example.org/', items: [] },
  ],
}

test('a menu comes back as it went out', () => {
  expect(readOpml(writeOpml(menu))).toEqual(menu)
})

test('is written as OPML 2.0 with links', () => {
  expect(writeOpml(menu)).toContain('<opml version="2.0">')
  expect(writeOpml(menu)).toContain('<outline text="2" type="link" url="https://example.org/"/>')
})

test.each([
  ['<opml version="2.0"><head/><body>\n<outline text="a">\n</body></opml>', /Line [23]/],
  ['<rss></rss>', /no OPML file/],
  ['<opml version="2.0"><head/><body>\n<outline url="/x"/></body></opml>', /Line 2: An outline has no “text”/],
  ['<!DOCTYPE x [<!ENTITY a "b">]><opml/>', /document type/],
])('%s is refused with its place', (text, message) => {
  expect(() => readOpml(text)).toThrow(FileFault)
  expect(() => readOpml(text)).toThrow(message)
})
