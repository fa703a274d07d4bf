import { roundsOf, testNumber } from '../stores/tests'
import type { Area } from './handler'
import { resultOf } from './result-of'

export const resultActions: Area<'result'> = {
  'result.read': async ({ db }, { test, round, source, goal }) => {
    const rounds = await roundsOf(db, testNumber(test))
    const wanted = round === null ? rounds[0] : rounds.find(({ snapshot }) => snapshot.id === round)
    if (wanted === undefined) return null
    return (await resultOf(db, wanted, source, goal))?.view ?? null
  },
}
