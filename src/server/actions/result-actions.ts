import { bySegment } from '@/core/experiment'
import { segmentsOf } from '../stores/results'
import { roundsById, roundsOf, testNumber } from '../stores/tests'
import type { Area } from './handler'
import { resultOf } from './result-of'

export const resultActions: Area<'result'> = {
  'result.read': async ({ db }, { test, round, source, goal }) => {
    const rounds = await roundsOf(db, testNumber(test))
    const wanted = round === null ? rounds[0] : rounds.find(({ snapshot }) => snapshot.id === round)
    if (wanted === undefined) return null
    return (await resultOf(db, wanted, source, goal))?.view ?? null
  },
  'result.segments': async ({ db }, { round, source, goal }) => {
    const [found] = await roundsById(db, [round])
    if (found === undefined) return { traits: [] }
    const versions = found.snapshot.design.arms.map(({ version }) => version)
    return { traits: bySegment(await segmentsOf(db, source, round, goal), versions) }
  },
}
