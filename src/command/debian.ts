import { spawn, spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { neverHalf } from './ending'
import { Progress } from './progress'
import { Trouble } from './trouble'

/** A program that must be there, and the Debian package that brings it. */
interface Needed {
  readonly program: string
  readonly debianPackage: string
}

export const databasePrograms: readonly Needed[] = [
  { program: '/usr/sbin/mariadbd', debianPackage: 'mariadb-server-core' },
  { program: '/usr/bin/mariadb-install-db', debianPackage: 'mariadb-server-core' },
  { program: '/usr/bin/mariadb-admin', debianPackage: 'mariadb-client' },
]
export const browserPrograms: readonly Needed[] = [{ program: '/usr/bin/chromium', debianPackage: 'chromium' }]
/** What the checker of HTML runs on. */
export const checkerPrograms: readonly Needed[] = [{ program: '/usr/bin/java', debianPackage: 'default-jre-headless' }]

/** Installs what is missing, as root or through sudo; says what to install where neither is possible. */
export async function ensurePrograms(needed: readonly Needed[]): Promise<void> {
  const missing = [...new Set(needed.filter(({ program }) => !existsSync(program)).map(({ debianPackage }) => debianPackage))]
  if (missing.length === 0) return
  const ask = `Install ${missing.join(' and ')} (on Debian: apt-get install ${missing.join(' ')}), then run this again.`
  if (!existsSync('/usr/bin/apt-get'))
    throw new Trouble(`Missing: ${missing.join(', ')}, and this is not a Debian machine. ${ask}`)
  const sudo = process.getuid?.() === 0 ? [] : ['sudo', '-n']
  if (sudo.length > 0 && spawnSync('sudo', ['-n', 'true']).status !== 0)
    throw new Trouble(`Missing: ${missing.join(', ')}, and this account may not install packages. ${ask}`)
  const apt = (...words: string[]) => {
    const [command = 'apt-get', ...rest] = [...sudo, 'apt-get', '-qq', '-o', 'DPkg::Lock::Timeout=300', ...words]
    const running = spawn(command, rest, {
      stdio: ['ignore', 'ignore', 'inherit'],
      // What it unpacks must not be left half way: a stop waits for it.
      detached: true,
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive', SPRIG_STARTED_BY: undefined },
    })
    return neverHalf(
      new Promise<boolean>((done) => running.once('close', (code) => done(code === 0)).once('error', () => done(false))),
    )
  }
  const shown = new Progress(`Installing ${missing.join(', ')}`, null)
  const done = (await apt('update')) && (await apt('install', '-y', '--no-install-recommends', ...missing))
  shown.end()
  if (!done) throw new Trouble(`The packages could not be installed. ${ask}`)
}
