import { agentOf, isBotAgent } from './agent'

/** What has been judged is remembered by its text: each time it is another. */
let run = 0
const anew = (agent: string) => `${agent} Build/${run++}`

const windows = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0'
const phone =
  'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Mobile Safari/537.36'
const tablet = 'Mozilla/5.0 (Linux; Android 15; SM-X710) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36'

test.each([
  [windows, 'computer'],
  [phone, 'phone'],
  [tablet, 'tablet'],
  ['Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148 Safari/604.1', 'phone'],
  ['Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148 Safari/604.1', 'tablet'],
  ['Mozilla/5.0 (Linux; Android 9) AppleWebKit/537.36 Silk/120.1 like Chrome/120 Safari/537.36', 'tablet'],
  ['Mozilla/5.0 (Linux) AppleWebKit/537.36 Silk/120.1 like Chrome/120 Mobile Safari/537.36', 'phone'],
  ['Mozilla/5.0 (Linux) AppleWebKit/537.36 Silk/120.1 like Chrome/120 Safari/537.36', 'tablet'],
  ['Mozilla/5.0 (iPod touch; CPU iPhone OS 12_0 like Mac OS X) AppleWebKit/605.1.15', 'phone'],
])('%s is a %s', (agent, device) => {
  expect(agentOf(anew(agent))).toEqual({ isBot: false, device })
})

test('is a bot whoever says so, and whoever says nothing', () => {
  expect([anew('ExampleSpider/1.0 (+https://spider.example/bot)'), '', anew(windows)].map(isBotAgent)).toEqual([
    true,
    true,
    false,
  ])
})

test('is judged once, unless its name is very long; and what was judged long ago is forgotten', () => {
  const known = anew(windows)
  expect(agentOf(known)).toBe(agentOf(known))
  const long = anew(windows + ' '.repeat(400))
  expect(agentOf(long)).not.toBe(agentOf(long))
  const first = agentOf(known)
  for (let index = 0; index < 5100; index++) agentOf(anew('Mozilla/5.0 (X11)'))
  expect(agentOf(known)).not.toBe(first)
  expect(agentOf(known)).toEqual(first)
})
