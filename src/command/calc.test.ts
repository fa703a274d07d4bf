import { PassThrough, Readable } from 'node:stream'
import { calc } from './calc'

async function run(family: string | undefined, text: string) {
  const [output, faults] = [new PassThrough(), new PassThrough()]
  const said: Record<'out' | 'err', string> = { out: '', err: '' }
  output.on('data', (part: Buffer) => (said.out += part.toString()))
  faults.on('data', (part: Buffer) => (said.err += part.toString()))
  const status = await calc(family, { input: Readable.from([text]), output, faults })
  return { status, ...said }
}

test('one line in is one line out, in the same order', async () => {
  const lines = ['{"n": 1000, "conversions": 0, "confidence": 0.95}', '', '{"n": 10, "conversions": 10, "confidence": 0.95}']
  const { status, out, err } = await run('wilson', lines.join('\r\n'))
  expect([status, err]).toEqual([0, ''])
  expect(
    out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as object),
  ).toMatchObject([
    { proportion: 0, lower: 0 },
    { proportion: 1, upper: 1 },
  ])
})

test('a bad line gets its number and what is wrong, and the others go on', async () => {
  const good = '{"counts": [50, 50], "weights": [1, 1]}'
  const bad = ['{', '{"counts": "many", "weights": [1, 1]}', '{"counts": [1], "weights": [1]}', '[]']
  const { status, out, err } = await run('srm', [...bad, good].join('\n'))
  expect(status).toBe(1)
  expect(out.trim().split('\n')).toHaveLength(1)
  expect(err.split('\n').map((line) => line.slice(0, 14))).toEqual([
    expect.stringMatching(/^Line 1: /),
    'Line 2: counts',
    'Line 3: splitC',
    expect.stringMatching(/^Line 4: /),
    '',
  ])
})

test('what is unbounded is said in a word', async () => {
  const none = '{"baseline": {"n": 100, "conversions": 0}, "variant": {"n": 100, "conversions": 5}, "confidence": 0.95}'
  expect(JSON.parse((await run('proportion-test', none)).out)).toMatchObject({
    lift: null,
    liftIntervalScore: [expect.any(Number), 'Infinity'],
  })
})

test.each([undefined, 'nothing', 'constructor'])('there is no family %s, and those that there are are named', async (family) => {
  expect(await run(family, '{}')).toMatchObject({ status: 2, out: '', err: expect.stringContaining('mixture-sequence') })
})
