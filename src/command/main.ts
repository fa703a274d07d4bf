import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline/promises'
import { demoAccounts, demoSteps, seedDemo } from '@/demo/seed'
import { createAccount, hasAccounts } from '@/server/accounts/accounts'
import { oneTimePassword } from '@/server/accounts/passwords'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { createDocument, publishBody } from '@/server/stores/documents'
import { goLive } from '@/server/database/go-live'
import { makeRelease } from '@/server/stores/releases'
import { build, buildBeside } from './build'
import { calc } from './calc'
import { templates } from '@/demo/templates'
import { firstPage } from './first-page'
import { databasePrograms, ensurePrograms } from './debian'
import { emptyDatabase, keepDatabase, quickly, startDatabase, stopDatabase } from './private-database'
import { endOnSignals, markWhatIsStarted } from './ending'
import { ensurePortsFree, Processes } from './processes'
import { Progress, whileWaiting } from './progress'
import { person } from './person'
import { recount } from './recount'
import { runTests } from './run-tests'
import { processEnvironment, readSettings, siteAddress, type Settings } from './settings'
import { Trouble } from './trouble'

const USAGE = `./sprig demo [--fresh]   the demo: studio, site and jobs with sample data (--fresh starts it over)
./sprig start            the same without sample data; asks for the first publisher's e-mail
./sprig stop             stops what runs
./sprig status           says what runs
./sprig person add|reset|disable <e-mail>   an account from the command line: where nobody can get in any more
./sprig recount          counts everything again from the events, says what differed, and puts it in place
./sprig calc FAMILY      statistics: a JSON object a line from standard input, one a line out; names the families without one
./sprig test             every check there is`

async function main(words: readonly string[]): Promise<number> {
  const [command, ...flags] = words
  switch (command) {
    case 'demo':
      return run(readSettings(process.env), { demo: true, fresh: flags.includes('--fresh') })
    case 'start':
      return run(readSettings(process.env), { demo: false, fresh: false })
    case 'stop':
      return stop(readSettings(process.env))
    case 'status':
      return status(readSettings(process.env))
    case 'person':
      return person(readSettings(process.env), flags)
    case 'calc':
      return calc(flags[0], { input: process.stdin, output: process.stdout, faults: process.stderr })
    case 'recount':
      return recount(readSettings(process.env))
    case 'test':
      return runTests()
    case 'build':
      await build({ force: true })
      return 0
    default:
      console.error(USAGE)
      return command === undefined || command === 'help' || command === '--help' ? 0 : 2
  }
}

async function run(settings: Settings, { demo, fresh }: { demo: boolean; fresh: boolean }): Promise<number> {
  const running = runningPid(settings)
  if (running !== null) throw new Trouble(`It is already running (process ${running}). Stop it first: ./sprig stop`)
  await ensurePortsFree(settings)
  writeFileSync(pidFile(settings), String(process.pid))
  // What the sample history is made with is there in a moment; the studio takes longer, beside it.
  const [built] = await Promise.all([buildBeside(), ensurePrograms(databasePrograms)])
  await startDatabase(settings, { throwaway: false })
  const processes = new Processes(settings)
  let letGo: () => void = () => undefined
  const end = async () => {
    letGo()
    await processes.stop()
    await stopDatabase(settings)
    rmSync(pidFile(settings), { force: true })
  }
  whenStopped = end
  try {
    await prepare(settings, demo, fresh)
    await built.whole
    await processes.start()
    announce(settings, demo)
    letGo = keepDatabase(settings)
    // Until it is stopped, which ends the process.
    await new Promise(() => undefined)
    return 0
  } catch (reason) {
    await end()
    throw reason
  }
}

async function prepare(settings: Settings, demo: boolean, fresh: boolean): Promise<void> {
  if (fresh) await emptyDatabase(settings, 'sprig')
  let db = connect(processEnvironment(settings))
  try {
    await migrate(db)
    if (await hasAccounts(db)) return
    if (!demo) return await firstAccount(db)
    // A demo that was interrupted while it was being made has no accounts yet: begin again.
    await db.destroy()
    await emptyDatabase(settings, 'sprig')
    db = connect(processEnvironment(settings))
    await migrate(db)
    const shown = new Progress('Making the demo', demoSteps)
    await quickly(settings, () => seedDemo(db, siteAddress(settings), (done) => shown.at(done)))
    shown.end()
  } finally {
    await db.destroy()
  }
}

async function firstAccount(db: Database): Promise<void> {
  const lines = createInterface({ input: process.stdin, output: process.stderr })
  const email = (await lines.question('E-mail of the first administrator: ')).trim()
  lines.close()
  if (!/^[^\s@]+@[^\s@]+$/.test(email)) throw new Trouble(`“${email}” is not an e-mail address. Start again and give one.`)
  const password = oneTimePassword()
  await goLive(db, async (trx) => {
    await createDocument(trx, firstPage, 0, email)
    await publishBody(trx, firstPage.id, firstPage, { note: 'The first page', author: email, lock: 0 })
    for (const [index, template] of templates(false).entries()) await createDocument(trx, template, index + 1, email)
    await makeRelease(trx, 'began the site', email)
    await createAccount(trx, {
      id: 'first',
      email,
      name: email.split('@')[0] ?? email,
      role: 'administrator',
      password,
      oneTime: true,
    })
  })
  console.error(
    `\nSign in as ${email} with the password ${password}\nIt is shown only this once; the studio asks for one of your own.`,
  )
}

function announce(settings: Settings, demo: boolean): void {
  const accounts = demo
    ? ['', 'Demo accounts:', ...demoAccounts.map(({ email, password, role }) => `  ${email}  ${password}  (${role})`)]
    : []
  console.log(
    [
      `\nStudio  http://localhost:${settings.studioPort}`,
      `Site    http://localhost:${settings.sitePort}`,
      ...accounts,
      '\nCtrl-C stops everything.',
    ].join('\n'),
  )
}

function pidFile(settings: Settings): string {
  return join(settings.home, 'running')
}

function runningPid(settings: Settings): number | null {
  if (!existsSync(pidFile(settings))) return null
  const pid = Number(readFileSync(pidFile(settings), 'utf8'))
  try {
    process.kill(pid, 0)
    return pid
  } catch {
    return null
  }
}

async function stop(settings: Settings): Promise<number> {
  const pid = runningPid(settings)
  if (pid === null) {
    await stopDatabase(settings)
    console.log('Nothing was running.')
    return 0
  }
  process.kill(pid, 'SIGTERM')
  const ended = async () => {
    while (runningPid(settings) !== null) await new Promise((next) => setTimeout(next, 100))
  }
  await whileWaiting('Waiting for everything to end', ended())
  console.log('Stopped.')
  return 0
}

async function status(settings: Settings): Promise<number> {
  const roles = [
    ['studio', settings.studioPort],
    ['site', settings.sitePort],
  ] as const
  const states = await Promise.all(
    roles.map(async ([role, port]) => {
      const answer = await fetch(`http://127.0.0.1:${port}/healthz`, { signal: AbortSignal.timeout(3000) }).catch(() => null)
      console.log(
        `${role.padEnd(7)} http://localhost:${port}  ${answer === null ? 'not running' : answer.status === 200 ? 'well' : `running, but not well (${(await answer.text()).trim()})`}`,
      )
      return answer?.status === 200
    }),
  )
  return states.every(Boolean) ? 0 : 1
}

/** What a stop ends first, in its own way. */
let whenStopped: () => Promise<void> | void = () => undefined
let isStopping = false
markWhatIsStarted()
endOnSignals(() => {
  isStopping = true
  return whenStopped()
})

main(process.argv.slice(2)).then(
  (code) => isStopping || process.exit(code),
  (reason: unknown) => {
    // What was at work when it was stopped fails as it must.
    if (isStopping) return
    if (reason instanceof Trouble) console.error(`\n${reason.message}`)
    else console.error(reason)
    process.exit(1)
  },
)
