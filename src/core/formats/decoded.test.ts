import { decoded } from './decoded'

const bytes = (text: string) => Buffer.from(text, 'latin1')

test.each([
  ['by its mark', Buffer.from('\ufeffCafé', 'utf16le'), 'Café'],
  ['by what it says of itself', bytes('<meta charset="iso-8859-2"><p>\xb1'), '<meta charset="iso-8859-2"><p>ą'],
  ['by its XML declaration', bytes('<?xml version="1.0" encoding="ISO-8859-1"?><a>\xe9</a>'), /<a>é<\/a>$/],
  ['as UTF-8', Buffer.from('Café ♫'), 'Café ♫'],
  ['as browsers do, where it is none', bytes('Caf\xe9'), 'Café'],
  ['as UTF-8 where it names an encoding that there is not', Buffer.from('<meta charset="nonsense">é'), /é$/],
])('text is read %s', (_, file, text) => {
  expect(decoded(file).text).toEqual(typeof text === 'string' ? text : expect.stringMatching(text))
})

test.each([
  ['%PDF-1.7', 'This is a PDF'],
  ['PK\x03\x04', 'zip archive'],
  ['\x89PNG', 'PNG picture'],
  ['<p>\x00</p>', 'bytes that no text has'],
])('%j is refused by what it is', (start, words) => {
  expect(() => decoded(bytes(start))).toThrow(words)
})
