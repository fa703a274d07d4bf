import { unitOf, type Unit } from '@/core/decide'
import { Noted } from './noted'

const unit = (n: number) => unitOf(n.toString(16).padStart(32, '0'))

test('who was written down is known by what they were given, until that is lost', () => {
  const noted = new Noted()
  noted.add(1, unit(1))
  expect([noted.has(1, unit(1)), noted.has(2, unit(1)), noted.has(1, unit(2))]).toEqual([true, false, false])
  noted.forget(1, unit(1))
  noted.forget(1, unit(2))
  expect(noted.has(1, unit(1))).toBe(false)
})

test('of a few hundred thousand nearly all are known, and nobody who never came', () => {
  const noted = new Noted()
  const came = Array.from({ length: 300_000 }, (_, n) => ({ number: n % 7, unit: unit(n) }))
  for (const { number, unit: of } of came) noted.add(number, of)
  const isKnown = ({ number, unit: of }: (typeof came)[number]) => noted.has(number, of)
  expect(came.filter(isKnown).length / came.length).toBeGreaterThan(0.998)
  const strangers = Array.from({ length: 100_000 }, (_, n) => ({ number: n % 7, unit: unit(came.length + n) }))
  expect(strangers.filter(isKnown)).toEqual([])
})

test('in a full set whoever comes pushes out the one who has been there longest, and nobody is there twice', () => {
  const noted = new Noted()
  // All of one set: the same place, and seals of their own.
  const units = Array.from({ length: 9 }, (_, n): Unit => ({ high: 5, low: n * 3 }))
  const known = () => units.map((of) => noted.has(0, of))
  for (const of of units.slice(0, 8)) noted.add(0, of)
  for (const of of units.slice(0, 8)) noted.add(0, of)
  expect(known()).toEqual([true, true, true, true, true, true, true, true, false])
  for (const of of units.slice(8)) noted.add(0, of)
  expect(known()).toEqual([false, true, true, true, true, true, true, true, true])
  // The place of one who is forgotten is taken before anybody is pushed out.
  for (const of of units.slice(4, 5)) noted.forget(0, of)
  for (const of of units.slice(0, 1)) noted.add(0, of)
  expect(known()).toEqual([true, true, true, true, false, true, true, true, true])
})
