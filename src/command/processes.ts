import { spawn, type ChildProcess } from 'node:child_process'
import { createWriteStream, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { isTaken } from './private-database'
import { processEnvironment, type Settings } from './settings'
import { Trouble } from './trouble'

interface Running {
  readonly name: string
  child: ChildProcess
}

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

  constructor(
    private readonly settings: Settings,
    private readonly database = 'sprig',
  ) {}

  async start(): Promise<void> {
    const { studioPort, sitePort } = this.settings
    for (const [name, words] of Object.entries(programs)) this.launch(name, words)
    await Promise.all([this.healthy('studio', studioPort), this.healthy('site', sitePort)])
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
      if (!this.stopping) setTimeout(() => this.stopping || this.launch(name, words), 1000)
    })
  }

  private async healthy(name: string, port: number): Promise<void> {
    for (let tries = 0; tries < 300; tries++) {
      const answer = await fetch(`http://127.0.0.1:${port}/healthz`).catch(() => null)
      if (answer?.status === 200) return
      await new Promise((next) => setTimeout(next, 100))
    }
    throw new Trouble(
      `The ${name} did not come up within 30 seconds. Its log is ${join(this.settings.home, 'logs', `${name}.log`)}.`,
    )
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
