import { planOf } from '../stores/rehearsals'
import { roundsById, roundsOf, testNumber } from '../stores/tests'
import { missing } from '../failure'
import { behaviourView, pressesOn } from './behaviour'
import type { Area } from './handler'
import { resultBy } from './result-by'
import { evidenceBefore, resultOf } from './result-of'

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
  'result.before': async ({ db }, { round, goal }) => ({ rounds: await evidenceBefore(db, round, goal) }),
  'result.by': async ({ db }, { round, ...asked }) => {
    const [wanted] = await roundsById(db, [round])
    if (wanted === undefined) throw missing('This round')
    return resultBy(db, wanted, asked)
  },
}
