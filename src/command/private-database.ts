import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { chmodSync, chownSync, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { createConnection } from 'node:net'
import { userInfo } from 'node:os'
import { dirname, join } from 'node:path'
import knex, { type Knex } from 'knex'
import { spoolOf, type Settings } from './settings'
import { whileWaiting } from './progress'
import { Trouble } from './trouble'

const MODES = 'STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION'

/** Starts the project's own MariaDB, on its own port, socket and folder; whatever else runs on the machine is not touched. */
export async function startDatabase(settings: Settings, options: { throwaway: boolean }): Promise<void> {
  if (answers(settings)) return
  if (await isTaken(settings.databasePort)) {
    throw new Trouble(
      `Port ${settings.databasePort} is taken by another program. Stop it, or choose another port for the database: SPRIG_DB_PORT=${settings.databasePort + 1} ./sprig …`,
    )
  }
  const user = prepareFolders(settings)
  if (!existsSync(join(settings.data, 'mysql'))) {
    const made = spawnSync(
      '/usr/bin/mariadb-install-db',
      [
        '--no-defaults',
        ...user,
        `--datadir=${settings.data}`,
        '--basedir=/usr',
        // Whoever may use the socket as this account is its superuser; nobody is over the network.
        '--auth-root-authentication-method=socket',
        `--auth-root-socket-user=${superuser()}`,
        '--skip-test-db',
        '--skip-name-resolve',
      ],
      { encoding: 'utf8' },
    )
    if (made.status !== 0)
      throw new Trouble(
        `The database's folder could not be made in ${settings.data}: ${made.stderr.trim().split('\n').at(-1) ?? ''}`,
      )
  }
  const server = spawn(
    '/usr/sbin/mariadbd',
    [
      '--no-defaults',
      ...user,
      '--basedir=/usr',
      `--datadir=${settings.data}`,
      `--tmpdir=${dirname(settings.socket)}`,
      '--bind-address=127.0.0.1',
      `--port=${settings.databasePort}`,
      `--socket=${settings.socket}`,
      `--pid-file=${settings.socket}.pid`,
      `--log-error=${join(settings.data, 'error.log')}`,
      '--skip-name-resolve',
      '--character-set-server=utf8mb4',
      '--default-time-zone=+00:00',
      `--sql-mode=${MODES}`,
      '--innodb-buffer-pool-size=256M',
      '--max-allowed-packet=64M',
      // A throw-away database for tests may lose its last second; the others must not.
      // A bench also asks how busy it was.
      ...(options.throwaway ? ['--innodb-flush-log-at-trx-commit=2', '--userstat=1'] : []),
    ],
    { detached: true, stdio: 'ignore' },
  )
  server.unref()
  await whileWaiting('Waiting for the database to answer', waitFor(settings, server))
  await makeAccount(settings)
}

/** As root the server runs under an account without rights; else as whoever runs this. */
function prepareFolders(settings: Settings): string[] {
  const folders = [settings.data, dirname(settings.socket)]
  for (const folder of folders) mkdirSync(folder, { recursive: true, mode: 0o700 })
  if (process.getuid?.() !== 0) return []
  const [uid, gid] = ['-u', '-g'].map((flag) => Number(spawnSync('id', [flag, 'nobody'], { encoding: 'utf8' }).stdout))
  if (uid === undefined || gid === undefined || Number.isNaN(uid))
    throw new Trouble('The database must not run as root, and there is no account “nobody”. Run this as an ordinary account.')
  const unreachable = unreachableFor(settings.data)
  if (unreachable !== null)
    throw new Trouble(
      `The account “nobody”, which runs the database, may not enter ${unreachable}. Choose another folder: SPRIG_HOME=/var/lib/sprig ./sprig …`,
    )
  for (const folder of folders) {
    chownSync(folder, uid, gid)
    chmodSync(folder, 0o700)
  }
  return ['--user=nobody']
}

function unreachableFor(folder: string): string | null {
  for (let at = dirname(folder); at !== dirname(at); at = dirname(at)) {
    if (spawnSync('setpriv', ['--reuid=nobody', '--clear-groups', 'test', '-x', at]).status === 1) return at
  }
  return null
}

/** As long as it lives: after a kill it first reads what it had written down, which takes what it takes. */
async function waitFor(settings: Settings, server: ChildProcess): Promise<void> {
  while (server.exitCode === null && server.signalCode === null) {
    if (answers(settings)) return
    await new Promise((next) => setTimeout(next, 200))
  }
  const log = join(settings.data, 'error.log')
  const last = existsSync(log)
    ? readFileSync(log, 'utf8')
        .split('\n')
        .filter((line) => line.includes('[ERROR]'))
        .at(-1)
    : undefined
  throw new Trouble(
    `The database ended instead of starting. ${last ?? ''}\nIts log is ${log}. Its files are still there. If they are of the demo and broken, ./sprig demo --fresh starts over.`,
  )
}

function answers({ socket }: Settings): boolean {
  return (
    existsSync(socket) &&
    spawnSync('/usr/bin/mariadb-admin', ['--no-defaults', `--socket=${socket}`, `--user=${superuser()}`, 'ping'], {
      stdio: 'ignore',
    }).status === 0
  )
}

export function databaseRuns(settings: Settings): boolean {
  return answers(settings)
}

export async function isTaken(port: number): Promise<boolean> {
  return new Promise((taken) => {
    const socket = createConnection({ port, host: '127.0.0.1' })
    socket.once('connect', () => {
      socket.destroy()
      taken(true)
    })
    socket.once('error', () => taken(false))
  })
}

/** The account that runs this: the database asks the system who is at the other end of its socket. */
function superuser(): string {
  return userInfo().username
}

function asSuperuser(settings: Settings, user = superuser()): Knex {
  return knex({ client: 'mysql2', connection: { socketPath: settings.socket, user }, pool: { min: 0, max: 1 } })
}

/** A database that was made before let root in without a password, from this machine's network too. */
async function closeOldDoors(settings: Settings): Promise<void> {
  for (const user of new Set([superuser(), 'root'])) {
    const root = asSuperuser(settings, user)
    try {
      const [rows] = (await root.raw("SELECT User, Host FROM mysql.user WHERE User IN ('', 'root') OR User = ?", [
        superuser(),
      ])) as [{ User: string; Host: string }[]]
      if (!rows.some(({ User }) => User === superuser()))
        await root.raw('GRANT ALL ON *.* TO ?@localhost IDENTIFIED VIA unix_socket WITH GRANT OPTION', [superuser()])
      for (const { User, Host } of rows)
        if (Host !== 'localhost' || User === '') await root.raw('DROP USER ?@?', [User, Host])
        else await root.raw('ALTER USER ?@? IDENTIFIED VIA unix_socket', [User, Host])
      return
    } catch (reason) {
      if ((reason as { code?: unknown }).code !== 'ER_ACCESS_DENIED_ERROR') throw reason
    } finally {
      await root.destroy()
    }
  }
  throw new Trouble(
    `The database’s files were made by another account than ${superuser()}. Run this as that account, or choose another folder: SPRIG_HOME=…`,
  )
}

/** The program's own account, with rights on its own databases only; root stays on the socket. */
async function makeAccount(settings: Settings): Promise<void> {
  await closeOldDoors(settings)
  const root = asSuperuser(settings)
  try {
    await root.raw("CREATE USER IF NOT EXISTS sprig@'127.0.0.1'")
    await root.raw(`ALTER USER sprig@'127.0.0.1' IDENTIFIED BY '${settings.password.replace(/[^\w-]/g, '')}'`)
    await root.raw("GRANT ALL ON `sprig%`.* TO sprig@'127.0.0.1'")
    await root.raw('CREATE DATABASE IF NOT EXISTS sprig CHARACTER SET utf8mb4')
  } finally {
    await root.destroy()
  }
}

/** Does something without waiting for the disk at every commit, which is waited for once at the end. */
export async function quickly<Done>(settings: Settings, work: () => Promise<Done>): Promise<Done> {
  const root = asSuperuser(settings)
  try {
    await root.raw('SET GLOBAL innodb_flush_log_at_trx_commit = 2')
    return await work()
  } finally {
    await root.raw('SET GLOBAL innodb_flush_log_at_trx_commit = 1')
    await root.raw('FLUSH ENGINE LOGS')
    await root.destroy()
  }
}

/** Starts the database again whenever it has gone, until told to stop looking. */
export function keepDatabase(settings: Settings): () => void {
  let busy = false
  const timer = setInterval(() => {
    if (busy || answers(settings)) return
    busy = true
    console.error('The database has gone; starting it again …')
    startDatabase(settings, { throwaway: false })
      .catch((reason: unknown) => console.error(reason instanceof Trouble ? reason.message : reason))
      .finally(() => (busy = false))
  }, 2000)
  return () => clearInterval(timer)
}

/** Nothing is left of it, nor of what waited on disk for it. */
export async function emptyDatabase(
  settings: Settings,
  name: 'sprig' | 'sprig_test' | 'sprig_bench' | 'sprig_bench_old',
): Promise<void> {
  const root = asSuperuser(settings)
  try {
    rmSync(spoolOf(settings, name), { recursive: true, force: true })
    await root.raw('DROP DATABASE IF EXISTS ??', [name])
    await root.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4', [name])
  } finally {
    await root.destroy()
  }
}

export async function stopDatabase(settings: Settings): Promise<void> {
  if (!answers(settings)) return
  spawnSync('/usr/bin/mariadb-admin', ['--no-defaults', `--socket=${settings.socket}`, `--user=${superuser()}`, 'shutdown'], {
    stdio: 'ignore',
  })
  const ended = async () => {
    while (existsSync(`${settings.socket}.pid`) && lives(settings)) await new Promise((next) => setTimeout(next, 100))
  }
  await whileWaiting('Waiting for the database to write down what it has', ended())
}

function lives({ socket }: Settings): boolean {
  try {
    return existsSync(`/proc/${Number(readFileSync(`${socket}.pid`, 'utf8'))}`)
  } catch {
    return false
  }
}

export function removeDatabase(settings: Settings): void {
  rmSync(settings.data, { recursive: true, force: true })
}
