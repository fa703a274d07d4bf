import { createServer, get, request, type IncomingMessage } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import { agent, frontPage, greeting, NOW, siteOf } from '../test-site'
import { proven, proveOnce, Straight } from './straight'

const long = { type: 'text', props: { words: `<p>${'Borrow an instrument. '.repeat(800)}</p>` } }
const longest = frontPage(Object.fromEntries(['a', 'b', 'c', 'd', 'e', 'f'].map((id) => [id, long])))
const { site } = siteOf({ documents: [greeting] })
const large = siteOf({ documents: [longest] }).site
beforeAll(async () => {
  // Before that Node sends.
  expect(await proven()).toBe(true)
  await Promise.all([site, large].map((one) => one.listen({ port: 0, host: '127.0.0.1' })))
})
afterAll(() => Promise.all([site, large].map((one) => one.close())))
const portOf = (of = site) => (of.server.address() as AddressInfo).port

const asking = (more = '', line = 'GET / HTTP/1.1') => `${line}\r\nHost: site.example\r\nUser-Agent: ${agent}\r\n${more}\r\n`
const LAST = asking('Connection: close\r\n')

/** All that comes back over one connection, whose last request is a page that it ends with. */
function spoken(words: readonly string[], port = portOf()): Promise<string> {
  return new Promise((done, failed) => {
    let text = ''
    const socket = connect({ port, host: '127.0.0.1' }, () => socket.write([...words, LAST].join('')))
    socket.on('data', (part) => (text += part.toString('latin1')))
    socket.on('close', () => done(text))
    socket.on('error', failed)
  })
}
const lines = (text: string) => text.split('\r\n\r\n')[0]?.split('\r\n') ?? []
/** What is said, by name, without what is another each time. */
const said = (text: string) =>
  Object.fromEntries(
    lines(text)
      .slice(1)
      .map((line) => [line.slice(0, line.indexOf(':')).toLowerCase(), line.slice(line.indexOf(':') + 2)])
      .filter(([name = '']) => !/^(set-cookie|connection|keep-alive|date)$/.test(name)),
  )

const pagesIn = (text: string) => text.match(/<\/html>/g)?.length

test('a page says the same sent straight and sent by Node, which closes what is not to be kept', async () => {
  const [straight = '', byNode = ''] = (await spoken([asking()])).split(/(?=HTTP\/1\.1 200)/)
  expect(said(straight)).toEqual(said(byNode))
  expect(said(straight)).toMatchObject({ 'x-content-type-options': 'nosniff', 'cache-control': 'private, no-cache' })
  expect(straight.split('\r\n\r\n')[1]).toBe(byNode.split('\r\n\r\n')[1])
  expect(lines(straight)).toContain(`Date: ${new Date(NOW).toUTCString()}`)
  expect(lines(straight).filter((line) => line.startsWith('Set-Cookie: '))).toHaveLength(2)
  expect([lines(straight), lines(byNode)].map((all) => all.filter((line) => line.startsWith('Connection: ')))).toEqual([
    ['Connection: keep-alive'],
    ['Connection: close'],
  ])
})

test('pages that are asked for at once come whole and in turn, and so does what Node answers between them', async () => {
  const pages = Array.from({ length: 5 }, (_, at) => asking(`Cookie: visitor=${String(at).repeat(32)}\r\n`))
  const text = await spoken(pages)
  const ends = [...text.matchAll(/\r\n\r\n/g)].map(({ index }) => index + 4)
  const length = Number(/content-length: (\d+)/i.exec(text)?.[1])
  // What stands behind each head is as long as it says, and then comes the next.
  expect(ends.map((end) => text.slice(end + length, end + length + 15))).toEqual([...Array(5).fill('HTTP/1.1 200 OK'), ''])
  const [first = '', ...others] = pages
  const mixed = await spoken([first, asking('', 'HEAD / HTTP/1.1'), asking('', 'GET /nowhere HTTP/1.1'), ...others])
  expect([...mixed.matchAll(/HTTP\/1\.1 (\d+)/g)].map(([, status]) => status)).toEqual([
    '200',
    '200',
    '404',
    ...Array(5).fill('200'),
  ])
  expect(pagesIn(mixed)).toBe(7)
})

test.each([
  ['an older browser', asking('', 'GET / HTTP/1.0'), 1],
  ['one that closes', asking('Connection: close\r\n'), 1],
  ['one that says both', asking('Connection: keep-alive\r\nConnection: close\r\n'), 1],
  ['one that says that it keeps', asking('Connection: keep-alive\r\n'), 2],
  ['one that says it in its own way', asking('Connection: Keep-Alive\r\n'), 2],
  ['one with a body', `${asking('Content-Length: 3\r\n')}abc`, 2],
  ['one with a body in parts', `${asking('Transfer-Encoding: chunked\r\n')}3\r\nabc\r\n0\r\n\r\n`, 2],
  ['one that waits to be told to go on', `${asking('Content-Length: 3\r\nExpect: 100-continue\r\n')}abc`, 2],
])('%s gets its page, and the next where the connection is kept', async (_, words, pages) => {
  expect(pagesIn(await spoken([words]))).toBe(pages)
})

test('half a request waits for its other half, and what is no request is refused without harm to others', async () => {
  const [half, other] = [LAST.slice(0, 30), LAST.slice(30)]
  let before: string | undefined
  const text = await new Promise<string>((done) => {
    let text = ''
    const socket = connect({ port: portOf(), host: '127.0.0.1' }, () => socket.write(half))
    socket.on('data', (part) => (text += part.toString('latin1')))
    socket.on('close', () => done(text))
    setTimeout(() => {
      before = text
      socket.write(other)
    }, 50)
  })
  expect([before, pagesIn(text)]).toEqual(['', 1])
  expect(await spoken(['GET / HTTP/1.1\r\nHost site\r\n\r\n'])).toMatch(/^HTTP\/1\.1 400/)
  expect(pagesIn(await spoken([]))).toBe(1)
})

test('a page that is long comes whole to somebody who reads slowly', async () => {
  const length = await new Promise<number>((done) => {
    get({ port: portOf(large), host: '127.0.0.1' }, (answer: IncomingMessage) => {
      let read = 0
      answer.on('data', (part: Buffer) => {
        read += part.length
        answer.pause()
        setTimeout(() => answer.resume(), 1)
      })
      answer.on('end', () => done(read))
    })
  })
  expect(length).toBeGreaterThan(80_000)
})

test('whoever asks and reads nothing is sent what fits, byte for byte, however often others are answered meanwhile', async () => {
  const body = Buffer.alloc(30_000, 'a')
  const straight = new Straight([], true)
  const server = createServer((request, response) => {
    const headers = ['content-type', 'text/plain']
    body.fill(request.url?.slice(-1) ?? '')
    if (straight.send(request, response, { headers, cookies: [], body }, NOW)) return
    response.writeHead(200, [...headers, 'content-length', String(body.length)])
    response.end(Buffer.from(body))
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const port = (server.address() as AddressInfo).port
  const slow = connect({ port, host: '127.0.0.1' }).pause()
  for (let time = 1; time <= 200; time++)
    slow.write(`GET /s HTTP/1.1\r\nHost: a\r\n${time === 200 ? 'Connection: close\r\n' : ''}\r\n`)
  await new Promise((next) => setTimeout(next, 100))
  for (let time = 0; time < 20; time++) await spoken(['GET /o HTTP/1.1\r\nHost: a\r\n\r\n'], port)
  const parts: Buffer[] = []
  slow.on('data', (part: Buffer) => parts.push(part)).resume()
  await new Promise((done) => slow.on('end', done))
  const answers = Buffer.concat(parts).toString('latin1').split('HTTP/1.1 200 OK').slice(1)
  expect(answers.map((answer) => answer.slice(answer.indexOf('\r\n\r\n') + 4) === 's'.repeat(30_000))).toEqual(
    Array.from({ length: 200 }, () => true),
  )
  server.close()
}, 20_000)

test('what may not stand in a header is never sent, and a connection that is gone harms nobody', async () => {
  const straight = new Straight([], true)
  let isSent: boolean | undefined
  const server = createServer((request, response) => {
    const answer = { headers: ['content-type', 'text/plain'], body: Buffer.from('a') }
    isSent = straight.send(request, response, { ...answer, cookies: ['a=b\r\nlocation: /elsewhere'] }, NOW)
    if (request.url === '/gone') {
      request.socket.destroy()
      straight.send(request, response, { ...answer, cookies: [] }, NOW)
    } else response.end('node')
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const port = (server.address() as AddressInfo).port
  const words = await new Promise<string>((done) => {
    request({ port, host: '127.0.0.1' }, (answer) => answer.on('data', (part: Buffer) => done(part.toString()))).end()
  })
  expect([words, isSent]).toEqual(['node', false])
  await spoken(['GET /gone HTTP/1.1\r\nHost: a\r\n\r\n'], port).catch(() => null)
  server.closeAllConnections()
  await new Promise((done) => server.close(done))
})

test('where Node would not go on after such an answer, or sends another, it is never used', async () => {
  const silent = {
    send: (_: unknown, { socket }: { socket: { write: (text: string) => void } | null }) => {
      socket?.write('HTTP/1.1 200 OK\r\nContent-Length: 4\r\n\r\n[/1]')
      return true
    },
  }
  const broken = {
    send: (_: unknown, { socket }: { socket: { destroy: () => void } | null }) => {
      socket?.destroy()
      return true
    },
  }
  expect(await proveOnce(silent as unknown as Straight, 300)).toBe(false)
  expect(await proveOnce(broken as unknown as Straight, 300)).toBe(false)
  expect(await proveOnce({ send: () => false }, 300)).toBe(false)
})
