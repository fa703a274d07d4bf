import type { Knex } from 'knex'
import * as z from 'zod'
import type { FoundThing } from '@/contract/contract'
import { documentKinds, documentSchema, walk, type ContentDocument, type DocumentKind } from '@/core/document'
import { statuses } from '@/core/experiment'
import { goalIdSchema } from '@/core/ids'
import { shortened } from '@/core/text'
import { componentTypes, excerptOf } from '@/components/types'
import { contains } from '../database/contains'
import { jsonColumn } from '../database/json-column'
import { testId } from '../stores/tests'
import type { Area } from './handler'

/** Of each kind of thing. */
const MOST = 8
/** Fewer letters stand in nearly every part. */
const LETTERS_FOR_PARTS = 3
/** Words in parts have no index: so many documents are read through, those that were changed last. */
const MOST_READ = 1000
/** Documents whose desk opens at a part. */
const withParts: readonly DocumentKind[] = ['page', 'template', 'shared', 'letter']

export const findActions: Area<'find'> = {
  'find.things': async ({ db }, { words }) => {
    const wanted = words.trim()
    const [documents, tests, goals, parts] = await Promise.all([
      findDocuments(db, wanted),
      findTests(db, wanted),
      findGoals(db, wanted),
      wanted.length < LETTERS_FOR_PARTS ? [] : findParts(db, wanted),
    ])
    return { found: [...documents, ...tests, ...goals, ...parts] }
  },
}

const documentRow = z.object({ id: z.string(), kind: z.enum(documentKinds), title: z.string(), path: z.string().nullable() })

async function findDocuments(db: Knex, words: string): Promise<FoundThing[]> {
  const rows: unknown[] = await db('documents')
    .whereNull('binned_at')
    .modify((query) => {
      if (words === '') void query.orderBy('updated_at', 'desc')
      else
        void query
          .where((either) => either.whereILike('title', contains(words)).orWhereILike('path', contains(words)))
          .orderByRaw('title LIKE ? DESC, kind, position', [`${contains(words).slice(1)}`])
    })
    .limit(MOST)
    .select('id', 'kind', 'title', 'path')
  return rows.map((row) => {
    const { id, kind, title, path } = documentRow.parse(row)
    return { kind, name: title, about: path ?? '', address: `/site/${id}` }
  })
}

async function findTests(db: Knex, words: string): Promise<FoundThing[]> {
  const rows: unknown[] = await db('tests')
    .modify((query) => {
      if (words === '') void query.where({ status: 'running' })
      else void query.whereILike('name', contains(words))
    })
    .orderBy('number', 'desc')
    .limit(MOST)
    .select('number', 'name', 'status')
  return rows.map((row) => {
    const { number, name, status } = z.object({ number: z.number(), name: z.string(), status: z.enum(statuses) }).parse(row)
    return { kind: 'test', name, about: status, address: `/tests/${testId(number)}` }
  })
}

async function findGoals(db: Knex, words: string): Promise<FoundThing[]> {
  if (words === '') return []
  const rows: unknown[] = await db('goals')
    .where({ archived: 0 })
    .whereILike('name', contains(words))
    .limit(MOST)
    .select('id', 'name')
  return rows.map((row) => {
    const { id, name } = z.object({ id: goalIdSchema, name: z.string() }).parse(row)
    return { kind: 'goal', name, about: '', address: `/goals/${id}` }
  })
}

async function findParts(db: Knex, words: string): Promise<FoundThing[]> {
  const lately = db('documents')
    .whereNull('binned_at')
    .whereIn('kind', withParts)
    .orderBy('updated_at', 'desc')
    .limit(MOST_READ)
    .select('draft', 'title', 'position')
    .as('lately')
  const rows: unknown[] = await db(lately)
    // As the words stand in JSON, whose column tells small letters from capitals by itself.
    .whereRaw('draft COLLATE utf8mb4_general_ci LIKE ?', [contains(JSON.stringify(words).slice(1, -1))])
    .orderBy('position')
    .limit(MOST)
    .select('draft', 'title')
  const row = z.object({ draft: jsonColumn(documentSchema), title: z.string() })
  return rows
    .flatMap((one) => {
      const read = row.safeParse(one)
      return read.success ? partsWith(read.data.draft, read.data.title, words) : []
    })
    .slice(0, MOST)
}

function partsWith(document: ContentDocument, title: string, words: string): FoundThing[] {
  const small = words.toLowerCase()
  return walk(document).flatMap((id): FoundThing[] => {
    const node = document.nodes[id]
    if (node === undefined || id === document.root) return []
    const excerpt = excerptOf(node)
    if (!excerpt.toLowerCase().includes(small)) return []
    const label = componentTypes.get(node.type)?.label ?? 'component'
    return [
      { kind: 'part', name: shortened(excerpt, 80), about: `${label} on “${title}”`, address: `/site/${document.id}?part=${id}` },
    ]
  })
}
