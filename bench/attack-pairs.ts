import * as z from 'zod'
import { documentSchema } from '@/core/document'
import type { Release } from '@/core/release'
import { isSameData } from '@/core/same-data'
import { liveNow, newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { jsonColumn } from '@/server/database/json-column'
import type { Database } from '@/server/database/connect'
import type { Lots } from './bent'

/** One thing that goes live, made ready so that it can be sent together with another one. */
export interface Command {
  readonly name: string
  readonly action: string
  readonly input: unknown
  /** Whether a release has it. */
  readonly isIn: (release: Release) => boolean
}

type Ask = (action: string, input: unknown) => Promise<{ readonly status: number; readonly body: unknown }>
type Make = (db: Database, ask: Ask, mark: number) => Promise<Command | null>

const draftRow = z.object({ draft: jsonColumn(documentSchema), lock_version: z.number() })
async function edited(db: Database, ask: Ask, id: string, prop: string, value: string): Promise<number | null> {
  const { draft, lock_version: base } = draftRow.parse(await db('documents').where({ id }).first('draft', 'lock_version'))
  const edits = [{ kind: 'set', node: draft.root, prop, value }]
  const { status, body } = await ask('document.edit', { document: id, base, edits })
  return status === 200 ? z.object({ lock: z.number() }).parse(body).lock : null
}
const rootOf = (release: Release, id: string) => {
  const document = release.documents.find((one) => one.id === id)
  return document?.nodes[document.root]?.props
}

const publishing =
  (id: string, prop: string, valueOf: (mark: number) => string): Make =>
  async (db, ask, mark) => {
    const value = valueOf(mark)
    const lock = await edited(db, ask, id, prop, value)
    if (lock === null) return null
    return {
      ...{ name: `${id}.${prop}`, action: 'document.publish', input: { document: id, lock, tests: [] } },
      isIn: (release) => rootOf(release, id)?.[prop] === value,
    }
  }

const makers: readonly Make[] = [
  publishing('home', 'description', (mark) => `The front page, ${mark}`),
  publishing('plans', 'description', (mark) => `All plans, ${mark}`),
  publishing('contact', 'path', (mark) => `/contact-${mark}`),
  (_db, _ask, mark) => {
    const bounceSeconds = 1 + (mark % 600)
    return Promise.resolve({
      ...{ name: 'seconds', action: 'setting.save', input: { bounceSeconds } },
      isIn: (release: Release) => release.bounceSeconds === bounceSeconds,
    })
  },
  (_db, _ask, mark) => {
    const attributes = [{ name: 'membership', values: ['family', `m${mark}`] }]
    return Promise.resolve({
      ...{ name: 'attributes', action: 'setting.save', input: { attributes } },
      isIn: (release: Release) => isSameData(release.attributes, attributes),
    })
  },
  (_db, _ask, mark) => {
    const origin = `https://shop-${mark}.example`
    return Promise.resolve({
      ...{ name: 'key', action: 'key.create', input: { name: `Shop ${mark}`, origin } },
      isIn: (release: Release) => release.reporters.some((one) => one.origin === origin),
    })
  },
  async (db) => {
    const row: unknown = await db('report_keys').whereNull('revoked_at').orderBy('created_at').first('id')
    const { id } = z.object({ id: z.string() }).optional().parse(row) ?? { id: null }
    if (id === null) return null
    return {
      ...{ name: 'key taken back', action: 'key.revoke', input: { id } },
      isIn: (release) => !release.reporters.some((one) => one.id === id),
    }
  },
]

let mark = 0

/**
 * Two, and sometimes three, that go live at the same moment: what was answered as done is in the newest release, and that
 * holds all that is live.
 *
 * @returns how many were sent, and what was lost in words
 */
export async function pair(db: Database, ask: Ask, lots: Lots): Promise<{ sent: number; statuses: number[]; lost: string[] }> {
  const some = new Set<Make>()
  while (some.size < 2 + lots.below(2)) some.add(lots.pick(makers))
  const commands: Command[] = []
  for (const make of some) {
    const command = await make(db, ask, ++mark)
    if (command !== null) commands.push(command)
  }
  const answers = await Promise.all(commands.map(({ action, input }) => ask(action, input)))
  const read = await readRelease(db, (await newestReleaseNumber(db)) ?? 0)
  const lost = read === null ? ['there is no release'] : []
  for (const [at, { name, isIn }] of commands.entries())
    if (answers[at]?.status === 200 && read !== null && !isIn(read.release))
      lost.push(`${name} was answered as done and is not live, beside ${commands.map((one) => one.name).join(', ')}`)
  if (read !== null && !isSameData(JSON.parse(JSON.stringify(await liveNow(db))), JSON.parse(JSON.stringify(read.release))))
    lost.push('the newest release is not what is live')
  return { sent: commands.length, statuses: answers.map(({ status }) => status), lost }
}
