import { existsSync } from 'node:fs'
import { join } from 'node:path'

/** The program that reads and looks in threads of its own. */
export function readerFile(): string {
  const file = join(process.env.SPRIG_DIST ?? join(process.cwd(), 'dist'), 'reader.mjs')
  if (!existsSync(file)) throw new Error(`${file} is not there: npm run build makes it`)
  return file
}
