import fc from 'fast-check'
import sharp from 'sharp'
import { HEAVIEST } from '@/core/picture-sizes'
import { checkFile } from './checked-file'
import { sizedPicture } from './sized-picture'
import { cleanSvg } from './svg-file'

const plain = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#8a5a1a' } })
/** As far from a plain ground as a picture can be: nothing of it can be packed. */
function noise(width: number, height: number) {
  const data = Buffer.alloc(width * height * 3)
  let state = 1
  for (let at = 0; at < data.length; at++) data[at] = (state = (state * 1_103_515_245 + 12_345) % 2_147_483_648) >>> 16
  return sharp(data, { raw: { width, height, channels: 3 } })
}

test('a photograph is sent upright, in several widths, and without what its camera wrote', async () => {
  const body = await plain(2400, 1000)
    .jpeg()
    .withExif({ IFD0: { Make: 'Camera' }, IFD3: { GPSLatitude: '52/1 30/1 0/1' } })
    .withMetadata({ orientation: 6 })
    .toBuffer()
  const { width, height, sizes } = await sizedPicture(body, 'image/jpeg')
  expect([width, height]).toEqual([1000, 2400])
  expect(new Set(sizes.map((one) => one.width))).toEqual(new Set([320, 640, 960, 1000]))
  for (const one of sizes) {
    const about = await sharp(one.body).metadata()
    expect([about.width, about.height]).toEqual([one.width, Math.round(one.width * 2.4)])
    expect([about.exif, about.orientation]).toEqual([undefined, undefined])
  }
  expect(new Set(sizes.map(({ type }) => type))).toEqual(new Set(['image/jpeg', 'image/webp']))
})

test('no width of any picture is heavy for a visitor', async () => {
  const { sizes } = await sizedPicture(await noise(1700, 1500).png({ compressionLevel: 1 }).toBuffer(), 'image/png')
  expect(Math.max(...sizes.map(({ body }) => body.length))).toBeLessThanOrEqual(HEAVIEST)
})

test('what can be seen through stays so, and what moves goes on moving', async () => {
  const clear = await sharp({ create: { width: 400, height: 90, channels: 4, background: { r: 9, g: 9, b: 9, alpha: 0.4 } } })
    .png()
    .toBuffer()
  for (const { body } of (await sizedPicture(clear, 'image/png')).sizes) expect((await sharp(body).stats()).isOpaque).toBe(false)
  const frames = await Promise.all(
    ['#000', '#fff', '#f00'].map((background) =>
      sharp({ create: { width: 40, height: 30, channels: 3, background } })
        .png()
        .toBuffer(),
    ),
  )
  const moving = await sharp(frames, { join: { animated: true } })
    .gif()
    .toBuffer()
  const { width, height, sizes } = await sizedPicture(moving, 'image/gif')
  expect([width, height]).toEqual([40, 30])
  for (const { body } of sizes) expect((await sharp(body, { animated: true }).metadata()).pages).toBe(3)
})

test.each([
  ['one that is broken off', async () => (await plain(800, 800).png().toBuffer()).subarray(0, 900), 'image/png', 'damaged'],
  ['one that unpacks to a hundred million pixels', () => plain(10_000, 10_000).png().toBuffer(), 'image/png', 'million pixels'],
])('is refused in words: %s', async (_, make, type, words) => {
  await expect(sizedPicture(await make(), type)).rejects.toThrow(words)
})

describe('a drawing', () => {
  const ns = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
  test.each([
    ['a script', `<svg ${ns} viewBox="0 0 2 1"><script>alert(1)</script><path d="M0 0h1"/></svg>`],
    [
      'what runs when something happens',
      `<svg ${ns} viewBox="0 0 2 1" onload="alert(1)"><path d="M0 0h1" onclick="alert(1)"/></svg>`,
    ],
    [
      'a page in it',
      `<svg ${ns} viewBox="0 0 2 1"><foreignObject><body xmlns="http://www.w3.org/1999/xhtml"><iframe src="x"/></body></foreignObject><path d="M0 0h1"/></svg>`,
    ],
    [
      'what it fetches',
      `<svg ${ns} viewBox="0 0 2 1"><image href="https://elsewhere.test/x"/><use xlink:href="https://elsewhere.test/x#a"/><path d="M0 0h1" fill="url(https://elsewhere.test/x)"/><style>@import url(https://elsewhere.test/x)</style></svg>`,
    ],
    ['links', `<svg ${ns} viewBox="0 0 2 1"><a href="javascript:alert(1)"><path d="M0 0h1"/></a></svg>`],
    [
      'what sets an address later',
      `<svg ${ns} viewBox="0 0 2 1"><set attributeName="href" to="javascript:alert(1)"/><animate attributeName="href" values="javascript:alert(1)"/><path d="M0 0h1"/></svg>`,
    ],
    [
      'words that become parts once they are read',
      `<svg ${ns} viewBox="0 0 2 1"><style>&lt;/style&gt;&lt;script&gt;alert(1)&lt;/script&gt;</style><style>&amp;lt;script&amp;gt;alert(1)</style><path d="M0 0h1"/></svg>`,
    ],
    [
      'names of its own',
      `<!DOCTYPE svg [<!ENTITY x "<script>alert(1)</script>">]><svg ${ns} viewBox="0 0 2 1"><path d="M0 0h1"/><text>&x;</text></svg>`,
    ],
  ])('is taken without %s', async (_, text) => {
    const clean = cleanSvg(text)
    expect(clean).not.toMatch(
      /<script|<iframe|<image|<set|<animate|on\w+=|javascript:|elsewhere|alert\(1\)<\/script|foreignObject|ENTITY/i,
    )
    expect(clean).toContain('<path d="M0 0h1"')
    expect(await sizedPicture(Buffer.from(clean), 'image/svg+xml')).toEqual({ width: 2, height: 1, sizes: [] })
  })

  test('keeps what it is drawn with', () => {
    const text = `<svg ${ns} viewBox="0 0 2 1"><defs><linearGradient id="g"><stop offset="0" stop-color="#fff"></stop></linearGradient></defs><style>.a > .b{fill:url(#g)}</style><g class="a"><rect class="b" width="2" height="1" fill="url(#g)"></rect><use xlink:href="#g"></use></g></svg>`
    expect(cleanSvg(text)).toBe(text)
  })

  test('is cleaned once and for all, whatever it was put together from', () => {
    const part = fc.constantFrom(
      '<g>',
      '</g>',
      '<style>',
      '</style>',
      '&lt;',
      '&amp;lt;',
      'script',
      '>',
      '<',
      '<![CDATA[',
      ']]>',
      '<!--',
      '-->',
      ' onload="x"',
      '<use href="#a"/>',
      '"',
      "'",
      '<script>',
      '</script>',
      'url(x)',
      '<?x ?>',
    )
    fc.assert(
      fc.property(fc.array(part, { maxLength: 24 }), (parts) => {
        let clean: string
        try {
          clean = cleanSvg(`<svg ${ns} viewBox="0 0 1 1">${parts.join('')}</svg>`)
        } catch {
          return
        }
        expect(cleanSvg(clean)).toBe(clean)
        expect(clean).not.toMatch(/<script|\sonload="x"[^<]*>/)
      }),
    )
  })

  test('has a name by what is kept of it', () => {
    const text = `<svg ${ns} viewBox="0 0 2 1"><path d="M0 0h1"/></svg>`
    const { name, body } = checkFile(Buffer.from(text))
    expect(checkFile(body)).toMatchObject({ name, width: 2, height: 1, type: 'image/svg+xml' })
    expect(checkFile(Buffer.from(`\uFEFF<?xml version="1.0"?>\n<!-- drawn by hand -->\n${text}`))).toMatchObject({ name })
  })
})
