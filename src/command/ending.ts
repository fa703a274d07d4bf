import { randomBytes } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { setTimeout as wait } from 'node:timers/promises'

/** In the environment of everything that this command starts, and of everything that those start. */
const MARK = 'SPRIG_STARTED_BY'
const mark = `${process.pid}-${randomBytes(6).toString('hex')}`

/** How long what was asked to end may take before it is ended. */
const PATIENCE = 20_000

/** Marks all that is started from now on, however deep, so that it is found again when this command ends. */
export function markWhatIsStarted(): void {
  process.env[MARK] = mark
}

/** All that was started and still runs: found by its environment, since programs leave their groups and sessions. */
export function startedHere(): number[] {
  const own = Buffer.from(`${MARK}=${mark}\0`)
  return readdirSync('/proc').flatMap((name) => {
    const pid = Number(name)
    if (!Number.isInteger(pid) || pid === process.pid) return []
    try {
      return Buffer.concat([readFileSync(`/proc/${pid}/environ`), Buffer.from('\0')]).includes(own) ? [pid] : []
    } catch {
      // It is gone by now, or somebody else's.
      return []
    }
  })
}

/** Ends all that this command started, first by asking. */
export async function endWhatWasStarted(patience = PATIENCE): Promise<void> {
  signal('SIGTERM')
  for (const until = Date.now() + patience; startedHere().length > 0 && Date.now() < until;) {
    await wait(100)
    // What was being started meanwhile has not heard it.
    if (Math.random() < 0.1) signal('SIGTERM')
  }
  for (let tries = 0; startedHere().length > 0 && tries < 50; tries++) {
    signal('SIGKILL')
    await wait(100)
  }
}

function signal(name: NodeJS.Signals): void {
  for (const pid of startedHere())
    try {
      process.kill(pid, name)
    } catch {
      // Gone meanwhile.
    }
}

const waitedFor = new Set<Promise<unknown>>()
/** Something that must not be left half done, whatever comes: packages of the system while they are unpacked. */
export function neverHalf<Done>(work: Promise<Done>): Promise<Done> {
  const settled = work.catch(() => undefined)
  waitedFor.add(settled)
  void settled.finally(() => waitedFor.delete(settled))
  return work
}

const SIGNALS = { SIGINT: 2, SIGTERM: 15, SIGHUP: 1 } as const

/**
 * From now on a stop ends this command and all that it started, at whatever it is; a second one does so at once.
 *
 * @param first what ends in its own way, before the rest is ended
 */
export function endOnSignals(first: () => Promise<void> | void): void {
  let ending = false
  for (const [name, number] of Object.entries(SIGNALS) as [NodeJS.Signals, number][])
    process.on(name, () => {
      if (ending) {
        signal('SIGKILL')
        process.exit(128 + number)
      }
      ending = true
      console.error('\nStopping …')
      void Promise.resolve()
        .then(first)
        .catch((reason: unknown) => console.error(reason))
        .then(async () => {
          if (waitedFor.size > 0)
            console.error('Waiting until the packages of the system are in place, as they cannot be left half way …')
          await Promise.all(waitedFor)
          await endWhatWasStarted()
          process.exit(128 + number)
        })
    })
}
