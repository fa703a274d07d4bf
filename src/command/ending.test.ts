import { spawn } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'

/** A command that starts a program, which starts one in a session of its own that does not hear what it is asked. */
const command = (note: string) => `
  const { spawn } = require('node:child_process')
  const { endOnSignals, markWhatIsStarted } = require('./src/command/ending.ts')
  markWhatIsStarted()
  endOnSignals(() => console.log('ended first'))
  const deaf = "process.on('SIGTERM', () => {}); process.on('SIGINT', () => {}); setInterval(() => {}, 1000)"
  const grandchild = \`const { spawn } = require('node:child_process'); const { writeFileSync } = require('node:fs');
    const one = spawn(process.execPath, ['-e', \${JSON.stringify(deaf)}], { detached: true, stdio: 'ignore' });
    writeFileSync(${JSON.stringify(note)}, String(one.pid)); setInterval(() => {}, 1000)\`
  spawn(process.execPath, ['-e', grandchild], { stdio: 'ignore' })
  setInterval(() => {}, 1000)
`

test.each(['SIGTERM', 'SIGINT'] as const)('%s ends a command and all that it started, however far from it', async (signal) => {
  const note = join(mkdtempSync(join(tmpdir(), 'sprig-ending-')), 'pid')
  const run = spawn(process.execPath, ['--import', 'tsx', '-e', command(note)], { stdio: 'pipe' })
  let said = ''
  run.stdout.on('data', (part: Buffer) => (said += part.toString()))
  const ended = new Promise<number | null>((done) => run.once('exit', done))
  for (let tries = 0; tries < 600 && (!existsSync(note) || readFileSync(note, 'utf8') === ''); tries++) await pause(50)
  const deaf = Number(readFileSync(note, 'utf8'))
  expect(existsSync(`/proc/${deaf}`)).toBe(true)
  run.kill(signal)
  // Twice, as somebody in a hurry would.
  await pause(300)
  run.kill(signal)
  expect(await ended).toBe(signal === 'SIGTERM' ? 143 : 130)
  expect(said).toContain('ended first')
  for (let tries = 0; tries < 100 && existsSync(`/proc/${deaf}`); tries++) await pause(20)
  expect(existsSync(`/proc/${deaf}`)).toBe(false)
})
