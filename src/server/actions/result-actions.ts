import { regionName } from '@/serving/regions'
import { armsEver, byNamedSegment, bySegment, traitWords } from '@/core/experiment'
import { planOf } from '../stores/rehearsals'
import { segmentsOf } from '../stores/results'
import { segmentsNow } from '../stores/segments'
import { roundsById, roundsOf, testNumber } from '../stores/tests'
import { missing } from '../failure'
import { behaviourView, pressesOn } from './behaviour'
import type { Area } from './handler'
import { resultOf } from './result-of'

export const resultActions: Area<'result'> = {
  'result.read': async ({ db }, { test, round, crowd, goal }) => {
    const rehearsed = crowd === 0 || round !== null ? null : await planOf(db, crowd)
    const rounds = rehearsed === null ? await roundsOf(db, testNumber(test)) : await roundsById(db, [rehearsed.round])
    const wanted = round === null ? rounds[0] : rounds.find(({ snapshot }) => snapshot.id === round)
    if (wanted === undefined) return null
    return (await resultOf(db, wanted, crowd, goal))?.view ?? null
  },
  'result.behaviour': async ({ db }, { round, crowd }) => {
    const [wanted] = await roundsById(db, [round])
    return wanted === undefined ? null : behaviourView(db, wanted, crowd)
  },
  'result.presses': async ({ db }, { round, crowd, version, page }) => {
    const [wanted] = await roundsById(db, [round])
    if (wanted === undefined) throw missing('This round')
    return pressesOn(db, wanted, { crowd, version, page })
  },
  'result.segments': async ({ db }, { round, crowd, goal }) => {
    const [wanted] = await roundsById(db, [round])
    if (wanted === undefined) return { traits: [], named: [], unread: [] }
    const versions = armsEver(wanted.epochs).map(({ version }) => version)
    const counts = await segmentsOf(db, crowd, round, goal)
    const found = bySegment(counts, versions)
    const segments = await segmentsNow(db)
    const named = byNamedSegment(counts, versions, segments)
    const read = new Set(named.map(({ segment }) => segment.id))
    return {
      unread: segments.filter(({ id }) => !read.has(id)).map(({ name }) => name),
      named: named.map(({ segment: { id, name }, ...rest }) => ({ id, name, ...rest })),
      traits: found.map((one) => ({
        ...one,
        values: one.values.map((of) => ({ ...of, words: traitWords(one.trait, of.value, regionName) })),
      })),
    }
  },
}
