import type { GoalId } from '@/core/ids'
import { Heard } from './heard'

const goal = (id: string) => id as GoalId
const of = (visitor: string, ...goals: string[]) => goals.map((one) => ({ visitor, goal: goal(one) }))

test('what is heard is added to what was, and what is heard twice is one', () => {
  const heard = new Heard()
  expect(heard.of('nobody')).toEqual([])
  heard.take([...of('nelly', 'bought'), ...of('jonas', 'wrote')])
  heard.take(of('nelly', 'wrote', 'bought'))
  expect([heard.of('nelly'), heard.of('jonas'), heard.of('constructor')]).toEqual([['bought', 'wrote'], ['wrote'], []])
})

test('where all is told anew, who is not told of any more is gone', () => {
  const heard = new Heard()
  heard.take([...of('nelly', 'bought'), ...of('jonas', 'wrote')])
  heard.takeAll(of('jonas', 'bought'))
  expect([heard.of('nelly'), heard.of('jonas')]).toEqual([[], ['bought']])
})

test('of more than two hundred thousand the one who was heard of first is forgotten, one for one', () => {
  const heard = new Heard()
  heard.take(Array.from({ length: 200_000 }, (_, n) => of(`v-${n}`, 'bought')).flat())
  expect([heard.of('v-0'), heard.of('v-199999')]).toEqual([['bought'], ['bought']])
  heard.take(of('v-200000', 'bought'))
  expect([heard.of('v-0'), heard.of('v-1'), heard.of('v-200000')]).toEqual([[], ['bought'], ['bought']])
})
