import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { connect } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { seedDemo } from '@/demo/seed'
import { buildBeside, buildLook, buildProcesses } from './build'
import { browserPrograms, databasePrograms, ensurePrograms } from './debian'
import { emptyDatabase, removeDatabase, startDatabase, stopDatabase } from './private-database'
import { ensurePortsFree, Processes } from './processes'
import { processEnvironment, readSettings, type Settings } from './settings'

/** Everything that must hold before a change goes in, cheapest first, on a database and ports of its own. */
export async function runTests(): Promise<number> {
  ensurePrograms([...databasePrograms, ...browserPrograms])
  const checks = ['typegen', 'format:check', 'lint', 'types', 'test:unit']
  for (const check of checks) if (!npmRun(check, process.env)) return 1

  process.env.SPRIG_HOME = resolve('.sprig', 'test')
  const settings = readSettings({ ...process.env, STUDIO_PORT: '4110', SITE_PORT: '4210', SPRIG_DB_PORT: '4316' })
  await ensurePortsFree(settings)
  await stopDatabase(settings)
  removeDatabase(settings)
  await startDatabase(settings, { throwaway: true })
  try {
    // Files from outside are read by a program of its own.
    await buildLook()
    await buildProcesses()
    return (await databaseTests(settings)) && (await endToEnd(settings)) ? 0 : 1
  } finally {
    await stopDatabase(settings)
    rmSync(settings.data, { recursive: true, force: true })
  }
}

async function databaseTests(settings: Settings): Promise<boolean> {
  await emptyDatabase(settings, 'sprig_test')
  return npmRun('test:database', { ...processEnvironment(settings, 'sprig_test'), NODE_ENV: 'test' })
}

/** Against the built application with the demo's data, as a person would use it. */
async function endToEnd(settings: Settings): Promise<boolean> {
  const built = await buildBeside()
  await prepareDemo(settings)
  await built.whole
  const processes = new Processes(settings)
  try {
    await processes.start()
    return npmRun('test:e2e', { ...processEnvironment(settings), NODE_ENV: 'test' })
  } finally {
    await processes.stop()
  }
}

async function prepareDemo(settings: Settings): Promise<void> {
  await emptyDatabase(settings, 'sprig')
  const db = connect(processEnvironment(settings))
  try {
    await migrate(db)
    await seedDemo(db)
  } finally {
    await db.destroy()
  }
}

function npmRun(script: string, environment: NodeJS.ProcessEnv): boolean {
  console.error(`\n— ${script}`)
  return spawnSync('npm', ['run', '--silent', script], { stdio: 'inherit', env: environment }).status === 0
}
