import { spawn, type ChildProcess } from 'node:child_process'
import { createWriteStream, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { isTaken } from './private-database'
import { processEnvironment, type Settings } from './settings'
import { whileWaiting } from './progress'
import { Trouble } from './trouble'

interface Running {
  readonly name: string
  child: ChildProcess
}

/** Whoever ends so often before it has answered once will not answer. */
const MOST_ENDED = 4

/** Each as it is run in service. */
export const programs = {
  site: ['dist/site.mjs'],
  // What counting makes is thrown away a batch later: with more room for the young, a batch is over before it is looked through.
  jobs: ['--max-semi-space-size=64', 'dist/jobs.mjs'],
  studio: ['dist/studio-server.mjs'],
} as const

/** Said before anything is begun, not after the demo has been made. */
export async function ensurePortsFree({ studioPort, sitePort }: Settings): Promise<void> {
  const needed = [
    ['studio', studioPort, 'STUDIO_PORT'],
    ['site', sitePort, 'SITE_PORT'],
  ] as const
  for (const [what, port, name] of needed) {
    if (await isTaken(port))
      throw new Trouble(
        `Port ${port}, which the ${what} needs, is taken by another program. Stop it, or choose another port: ${name}=${port + 10} ./sprig …`,
      )
  }
}

/** Keeps studio, site and jobs going until it is told to stop; one that dies is started again. */
export class Processes {
  private readonly running: Running[] = []
  private stopping = false
  /** How often each has ended by itself. */
  private readonly ended = new Map<string, number>()

  constructor(
    private readonly settings: Settings,
    private readonly database = 'sprig',
  ) {}

  async start(): Promise<void> {
    const { studioPort, sitePort } = this.settings
    for (const [name, words] of Object.entries(programs)) this.launch(name, words)
    await whileWaiting(
      'Waiting for the studio and the site to answer',
      Promise.all([this.healthy('studio', studioPort), this.healthy('site', sitePort)]),
    )
  }

  private launch(name: string, words: readonly string[]): void {
    const logs = join(this.settings.home, 'logs')
    mkdirSync(logs, { recursive: true })
    const log = createWriteStream(join(logs, `${name}.log`), { flags: 'a' })
    const child = spawn(process.execPath, ['--enable-source-maps', ...words], {
      env: processEnvironment(this.settings, this.database),
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    child.stdout.pipe(log, { end: false })
    child.stderr.pipe(log, { end: false })
    const known = this.running.find((one) => one.name === name)
    if (known === undefined) this.running.push({ name, child })
    else known.child = child
    child.once('exit', () => {
      log.end()
      this.ended.set(name, (this.ended.get(name) ?? 0) + 1)
      if (!this.stopping) setTimeout(() => this.stopping || this.launch(name, words), 1000)
    })
  }

  /** However long it takes, as long as it lives: a busy machine is no fault of it. */
  private async healthy(name: string, port: number): Promise<void> {
    while (!this.stopping) {
      const answer = await fetch(`http://127.0.0.1:${port}/healthz`, { signal: AbortSignal.timeout(10_000) }).catch(() => null)
      if (answer?.status === 200) return
      if ((this.ended.get(name) ?? 0) >= MOST_ENDED)
        throw new Trouble(
          `The ${name} ends each time it is started. Its log says why: ${join(this.settings.home, 'logs', `${name}.log`)}. Everything that was kept is still there; when the cause is gone, run this again.`,
        )
      await new Promise((next) => setTimeout(next, 100))
    }
  }

  async stop(): Promise<void> {
    this.stopping = true
    await Promise.all(
      this.running.map(
        ({ child }) =>
          new Promise<void>((done) => {
            if (child.exitCode !== null || child.signalCode !== null) return done()
            child.once('exit', () => done())
            child.kill('SIGTERM')
            setTimeout(() => child.kill('SIGKILL'), 6000).unref()
          }),
      ),
    )
  }
}
