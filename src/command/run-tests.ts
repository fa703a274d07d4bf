import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { constants, setPriority } from 'node:os'
import { resolve } from 'node:path'
import { connect } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { seedDemo } from '@/demo/seed'
import { buildBeside } from './build'
import { browserPrograms, checkerPrograms, databasePrograms, ensurePrograms } from './debian'
import { emptyDatabase, removeDatabase, startDatabase, stopDatabase } from './private-database'
import { ensurePortsFree, Processes } from './processes'
import { processEnvironment, readSettings, siteAddress, type Settings } from './settings'

/** Everything that must hold before a change goes in, on a database and ports of its own; side by side what can be. */
export async function runTests(): Promise<number> {
  const installed = ensurePrograms([...databasePrograms, ...browserPrograms, ...checkerPrograms])
  // Said where it is waited for.
  installed.catch(() => undefined)
  if (!(await ran('typegen', process.env))) return 1
  const texts = async () => {
    for (const check of ['format:check', 'rooms', 'types']) if (!(await apart(check, process.env))) return false
    return true
  }
  if (!(await both(apart('lint', process.env), texts()))) return 1

  process.env.SPRIG_HOME = resolve('.sprig', 'test')
  const settings = readSettings({ ...process.env, STUDIO_PORT: '4110', SITE_PORT: '4210', SPRIG_DB_PORT: '4316' })
  await installed
  await ensurePortsFree(settings)
  await stopDatabase(settings)
  removeDatabase(settings)
  await startDatabase(settings, { throwaway: true })
  try {
    // Tests of a part take what is built here too: files from outside are read by a program of its own.
    const built = await buildBeside()
    // The browser leaves much of a machine idle, so what needs none is done meanwhile, one after the other. All wait for the
    // walks through it in the end: they go first where both want the same core.
    const parts = apart('test:unit', process.env, BEHIND).then(async (well) => (await databaseTests(settings)) && well)
    return (await both(endToEnd(settings, built.whole), parts)) ? 0 : 1
  } finally {
    await stopDatabase(settings)
    rmSync(settings.data, { recursive: true, force: true })
  }
}

async function databaseTests(settings: Settings): Promise<boolean> {
  await emptyDatabase(settings, 'sprig_test')
  return apart('test:database', { ...processEnvironment(settings, 'sprig_test'), NODE_ENV: 'test' }, BEHIND)
}

/** Whether both were well; neither is left running. */
async function both(one: Promise<boolean>, other: Promise<boolean>): Promise<boolean> {
  const ends = await Promise.allSettled([one, other])
  for (const end of ends) if (end.status === 'rejected') console.error(end.reason)
  return ends.every((end) => end.status === 'fulfilled' && end.value)
}

/** A third of a core where another wants it whole. */
const BEHIND = constants.priority.PRIORITY_BELOW_NORMAL / 2

/** Runs beside something else; what it says is printed in one piece when it is done. */
async function apart(script: string, environment: NodeJS.ProcessEnv, priority?: number): Promise<boolean> {
  const run = spawn('npm', ['run', '--silent', script], { stdio: ['ignore', 'pipe', 'pipe'], env: environment })
  // Before it has begun anything else, which has the same.
  if (run.pid !== undefined && priority !== undefined) setPriority(run.pid, priority)
  const said: Buffer[] = []
  for (const stream of [run.stdout, run.stderr]) stream.on('data', (part: Buffer) => said.push(part))
  const code = await new Promise((done) => run.once('close', done))
  console.error(`\n— ${script}\n${Buffer.concat(said).toString()}`)
  return code === 0
}

/** Against the built application with the demo's data, as a person would use it. */
async function endToEnd(settings: Settings, built: Promise<void>): Promise<boolean> {
  await prepareDemo(settings)
  await built
  const processes = new Processes(settings)
  try {
    await processes.start()
    return await ran('test:e2e', { ...processEnvironment(settings), NODE_ENV: 'test' })
  } finally {
    await processes.stop()
  }
}

async function prepareDemo(settings: Settings): Promise<void> {
  await emptyDatabase(settings, 'sprig')
  const db = connect(processEnvironment(settings))
  try {
    await migrate(db)
    await seedDemo(db, siteAddress(settings))
  } finally {
    await db.destroy()
  }
}

/** Says each line as it comes. */
async function ran(script: string, environment: NodeJS.ProcessEnv): Promise<boolean> {
  console.error(`\n— ${script}`)
  const run = spawn('npm', ['run', '--silent', script], { stdio: 'inherit', env: environment })
  return (await new Promise((done) => run.once('close', done))) === 0
}
