import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildSync } from 'esbuild'

/* Measured as it is built: what a loader of sources puts around every function would be half of the time. */
const folder = mkdtempSync(join(tmpdir(), 'report-'))
try {
  const outfile = join(folder, 'report.cjs')
  const made = { bundle: true, platform: 'node', format: 'cjs', outfile, logLevel: 'error' } as const
  buildSync({ ...made, entryPoints: [join(import.meta.dirname, 'report-made.ts')] })
  process.exitCode = spawnSync(process.execPath, [outfile], { stdio: 'inherit' }).status ?? 1
} finally {
  rmSync(folder, { recursive: true, force: true })
}
