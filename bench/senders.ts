import { randomBytes } from 'node:crypto'
import autocannon from 'autocannon'

/* Two hundred browsers that report to the address given, so many events at a time: started by the bench of collecting, to which it tells how it went. */
const SECONDS = 6
const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const id = () => randomBytes(16).toString('hex')

const [url = '', each = '10'] = process.argv.slice(2)
const eventsAReport = Number(each)
async function run(): Promise<void> {
  const result = await autocannon({
    url,
    connections: 200,
    duration: SECONDS,
    method: 'POST',
    headers: { 'user-agent': agent, 'content-type': 'text/plain' },
    requests: [
      {
        setupRequest: (request) => ({
          ...request,
          headers: { ...request.headers, cookie: `visitor=${id()}` },
          body: JSON.stringify({ d: 'home', e: Array.from({ length: eventsAReport }, () => ({ i: id(), k: 'page' })) }),
        }),
      },
    ],
  })
  process.stdout.write(
    JSON.stringify({
      events: result['2xx'] * eventsAReport,
      seconds: result.duration,
      p99: result.latency.p99,
      non2xx: result.non2xx,
    }),
  )
}

void run()
