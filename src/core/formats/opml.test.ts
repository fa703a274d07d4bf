import { DOMParser } from '@xmldom/xmldom'
import fc from 'fast-check'
import { FileFault } from './fault'
import { readOpml, writeOpml, type OutlineFile, type OutlineItem } from './opml'

const word = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
  .filter((text) => text.trim() === text && /\S/.test(text))
const noControl = word.filter((text) => !/[\u0000-\u001f\ufffe\uffff]/.test(text))
const entry = (items: fc.Arbitrary<OutlineItem[]>) =>
  fc.record({ text: noControl, url: fc.constantFrom('', 'https://music.example/a?b=1&c="2"', 'mailto:a@b.example'), items })
const item = entry(fc.array(entry(fc.array(entry(fc.constant([])), { maxLength: 2 })), { maxLength: 3 }))

describe('a menu as an outline', () => {
  test('comes back as it went out, whatever its words', () => {
    const file = fc.record({ title: noControl, items: fc.array(item, { maxLength: 4 }) })
    fc.assert(fc.property(file, (menu) => expect(readOpml(writeOpml(menu))).toEqual(menu)))
  })

  test('is OPML 2.0 with links, as another parser reads it, and without what XML cannot hold', () => {
    const menu: OutlineFile = {
      title: 'Main & more',
      items: [{ text: 'Two\u0001\nlines', url: 'https://example.org/', items: [{ text: '“Cello” <new>', url: '', items: [] }] }],
    }
    const read = new DOMParser({
      onError: (_, message) => {
        throw new Error(message)
      },
    }).parseFromString(writeOpml(menu), 'text/xml')
    expect(read.documentElement?.getAttribute('version')).toBe('2.0')
    const outlines = [...read.getElementsByTagName('outline')].map((one) =>
      [...one.attributes].map(({ name, value }) => [name, value]),
    )
    expect(outlines).toEqual([
      [
        ['text', 'Two\nlines'],
        ['type', 'link'],
        ['url', 'https://example.org/'],
      ],
      [['text', '“Cello” <new>']],
    ])
  })

  test('is read with character references, other attributes and a feed for a link', () => {
    const text =
      '<?xml version="1.0"?>\n<opml version="1.0"><head><title>A<![CDATA[ & b]]></title><ownerName>x</ownerName></head><body>' +
      '<outline text="Caf&#233; &#x266B;" htmlUrl="/cafe"/><outline title="Feed" xmlUrl="https://a.example/feed"/></body></opml>'
    expect(readOpml(text)).toEqual({
      title: 'A & b',
      items: [
        { text: 'Café ♫', url: '/cafe', items: [] },
        { text: 'Feed', url: 'https://a.example/feed', items: [] },
      ],
    })
  })

  test.each([
    ['<opml version="2.0"><head/><body>\n<outline text="a">\n</body></opml>', /^Line 3, column 8: Unexpected close tag/],
    ['<rss></rss>', /^Line 1, column \d+: This is no OPML file/],
    ['<opml version="2.0"><head/></opml>', /needs <opml> with a <body>/],
    ['<opml version="2.0"><head/><body>\n<outline url="/x"/></body></opml>', /^Line 2, column \d+: An outline has no “text”/],
    ['<!DOCTYPE x [<!ENTITY a "b">]><opml/>', /document type/],
    ['<opml version="2.0"><body><outline text="a & b"/></body></opml>', /^Line 1, column \d+/],
    ['<opml version="2.0"><body><outline text="&nbsp;"/></body></opml>', /^Line 1, column \d+/],
    ['<opml version="2.0"><body><outline text="a" text="b"/></body></opml>', /^Line 1, column \d+/],
    ['<opml version="2.0"><body><outline text="\u0001"/></body></opml>', /^Line 1, column \d+/],
    ['<opml version="2.0"><body></body></opml><opml/>', /^Line 1, column \d+/],
    [`<opml version="2.0"><body>${'<outline text="a">'.repeat(60)}${'</outline>'.repeat(60)}</body></opml>`, /more than 50 deep/],
    [`<opml version="2.0"><body>${'<outline text="a"/>'.repeat(5001)}</body></opml>`, /more than 5000 entries/],
    ['', /./],
  ])('%#: what is no such file is refused with its place', (text, message) => {
    expect(() => readOpml(text)).toThrow(FileFault)
    expect(() => readOpml(text)).toThrow(message)
  })
})
