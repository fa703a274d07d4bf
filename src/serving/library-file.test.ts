import { libraryFile, sendingOf } from './library-file'

const size = (width: number, type: string) => ({ width, type, body: Buffer.from(`${width} ${type}`) })
const photo = libraryFile({
  name: 'm-1',
  whole: null,
  sizes: [
    size(320, 'image/jpeg'),
    size(320, 'image/webp'),
    size(960, 'image/webp'),
    size(960, 'image/jpeg'),
    size(1920, 'image/jpeg'),
  ],
  ready: true,
})
const chrome = 'image/avif,image/webp,image/apng,image/svg+xml,image/*,*/*;q=0.8'

test.each([
  ['a browser that names WebP', '320', chrome, '320 image/webp'],
  ['one that takes anything', '320', '*/*', '320 image/jpeg'],
  ['one that says nothing', '320', undefined, '320 image/jpeg'],
  ['one that refuses WebP', '320', 'image/webp;q=0,image/*', '320 image/jpeg'],
  ['one that takes neither: something is better than nothing', '320', 'text/html', '320 image/jpeg'],
  ['a width between two', '321', chrome, '960 image/webp'],
  ['a width where WebP wins nothing', '1900', chrome, '1920 image/jpeg'],
  ['a width larger than all', '99999', chrome, '1920 image/jpeg'],
  ['no width', undefined, chrome, '1920 image/jpeg'],
  ['two widths', ['320', '960'], chrome, '1920 image/jpeg'],
  ['no number', '-1e9', chrome, '1920 image/jpeg'],
])('a picture for %s', (_, width, accept, sent) => {
  expect(String(sendingOf(photo, width, accept).asset?.body)).toBe(sent)
  expect(sendingOf(photo, width, accept)).toMatchObject({ forGood: true, varies: true })
})

test('while its widths are being made a picture is sent as it is, but not where it is heavy, and not for good', () => {
  const waiting = (type: string, bytes: number) =>
    sendingOf(
      libraryFile({ name: 'm-1', whole: { type, body: Buffer.alloc(bytes) }, sizes: [], ready: false }),
      undefined,
      chrome,
    )
  expect(waiting('image/png', 1000)).toMatchObject({ asset: { type: 'image/png' }, forGood: false })
  expect(waiting('image/png', 2_000_001).asset).toBeUndefined()
  expect(waiting('video/mp4', 2_000_001).asset).toBeDefined()
})
