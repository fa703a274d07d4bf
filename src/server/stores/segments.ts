import type { Knex } from 'knex'
import * as z from 'zod'
import { conditionSchema, segmentsIn, type Segment } from '@/core/decide'
import { designSchema, freeName, personalizationSchema, statuses } from '@/core/experiment'
import {
  documentIdSchema,
  nodeIdSchema,
  segmentIdSchema,
  versionIdSchema,
  type DocumentId,
  type NodeId,
  type SegmentId,
  type TestId,
  type VersionId,
} from '@/core/ids'
import { isSameData } from '@/core/same-data'
import { contains } from '../database/contains'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'
import { newId } from '../new-id'
import { testId } from './tests'

/** More than anybody keeps in mind. */
export const MOST_SEGMENTS = 200

const rowSchema = z.object({
  id: segmentIdSchema,
  name: z.string(),
  condition: jsonColumn(conditionSchema),
  lock_version: z.number(),
  updated_at: z.date(),
  updated_by: z.string(),
})
export type SegmentRow = z.infer<typeof rowSchema>

export async function listSegments(db: Knex): Promise<SegmentRow[]> {
  const rows: unknown[] = await db('segments').orderBy('name').limit(MOST_SEGMENTS)
  return rows.map((row) => rowSchema.parse(row))
}

/** What conditions may name. */
export async function segmentsNow(db: Knex): Promise<Segment[]> {
  return (await listSegments(db)).map(({ id, name, condition }) => ({ id, name, condition }))
}

/**
 * Brings segments in from elsewhere. What is here under the same name and asks the same is that one; one whose id or name
 * is taken otherwise comes in under others.
 *
 * @param keepIds each is the one with its id, as what names them comes along with their ids
 * @returns what each is known by here
 */
export async function takeSegments(
  trx: Knex.Transaction,
  segments: readonly Segment[],
  { by, keepIds = false }: { readonly by: string; readonly keepIds?: boolean },
): Promise<ReadonlyMap<SegmentId, SegmentId>> {
  const here = await listSegments(trx)
  const known = new Map<SegmentId, SegmentId>()
  for (const { id, name, condition } of segments) {
    const alike = here.filter((one) => isSameData(one.condition, condition))
    const found =
      alike.find((one) => one.id === id) ??
      (keepIds ? undefined : alike.find((one) => one.name.toLowerCase() === name.toLowerCase()))
    if (found !== undefined) {
      known.set(id, found.id)
      continue
    }
    if (here.length >= MOST_SEGMENTS)
      throw new Failure('input', `There are ${MOST_SEGMENTS} segments already, and this would bring more. Remove some first.`)
    const row: SegmentRow = {
      id: here.some((one) => one.id === id) ? segmentIdSchema.parse(newId()) : id,
      name: freeNameFor(name, here),
      ...{ condition, lock_version: 1, updated_at: new Date(), updated_by: by },
    }
    await trx('segments').insert({ ...row, condition: JSON.stringify(condition) })
    here.push(row)
    known.set(id, row.id)
  }
  return known
}

/** Two names that differ in capitals alone are one to the database. */
function freeNameFor(name: string, here: readonly SegmentRow[]): string {
  const taken = here.map((one) => one.name.toLowerCase())
  return taken.includes(name.toLowerCase()) ? freeName(taken, name.toLowerCase()).slice(0, 80) : name
}

export async function holdSegment(trx: Knex.Transaction, id: SegmentId): Promise<SegmentRow> {
  const row: unknown = await trx('segments').where({ id }).forUpdate().first()
  if (row === undefined) throw missing('This segment')
  return rowSchema.parse(row)
}

/** Who names segments: rules as they are being made, those that are live, and tests that are not settled. */
export interface Uses {
  readonly rules: readonly {
    readonly version: VersionId
    readonly name: string
    readonly document: DocumentId
    readonly title: string
    readonly node: NodeId
    readonly segments: readonly SegmentId[]
  }[]
  /** Live rules: what changes in a segment changes for visitors at once. */
  readonly live: readonly { readonly document: DocumentId; readonly segments: readonly SegmentId[] }[]
  readonly tests: readonly {
    readonly id: TestId
    readonly name: string
    readonly status: (typeof statuses)[number]
    readonly segments: readonly SegmentId[]
  }[]
}

const ruleRow = z.object({
  id: versionIdSchema,
  name: z.string(),
  document_id: documentIdSchema,
  node_id: nodeIdSchema,
  title: z.string(),
  condition: jsonColumn(conditionSchema),
})
const liveRow = z.object({ published: jsonColumn(personalizationSchema) })
const testRow = z.object({ number: z.number(), name: z.string(), status: z.enum(statuses), design: jsonColumn(designSchema) })

/** As a condition that names a segment is kept. */
const NAMES_ONE = contains('"kind":"segment"')

export async function usesOfSegments(db: Knex): Promise<Uses> {
  const rules: unknown[] = await db('versions as v')
    .join('documents as d', 'd.id', 'v.document_id')
    .where({ 'v.manner': 'rule', 'v.settled': 0 })
    .where('v.condition', 'like', NAMES_ONE)
    .select('v.id', 'v.name', 'v.document_id', 'v.node_id', 'v.condition', 'd.title')
  const live: unknown[] = await db('personalizations').where('published', 'like', NAMES_ONE).select('published')
  const tests: unknown[] = await db('tests')
    .whereNot({ status: 'settled' })
    .where('design', 'like', NAMES_ONE)
    .select('number', 'name', 'status', 'design')
  return {
    rules: rules.map((row) => {
      const { id, name, document_id: document, node_id: node, title, condition } = ruleRow.parse(row)
      return { version: id, name, document, title, node, segments: segmentsIn(condition) }
    }),
    live: live.map((row) => {
      const { document, rules: ordered } = liveRow.parse(row).published
      return { document, segments: [...new Set(ordered.flatMap(({ condition }) => segmentsIn(condition)))] }
    }),
    tests: tests.map((row) => {
      const { number, name, status, design } = testRow.parse(row)
      return { id: testId(number), name, status, segments: segmentsIn(design.audience) }
    }),
  }
}
