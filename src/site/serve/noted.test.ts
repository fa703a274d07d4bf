import { mixed, unitOf } from '@/core/decide'
import type { Note } from './given'
import { Noted } from './noted'

const unit = (n: number) => unitOf(n.toString(16).padStart(32, '0'))

test('who was written down is known by what they were given, until that is lost', () => {
  const noted = new Noted()
  noted.add({ number: 1, unit: unit(1) })
  expect([noted.has(1, unit(1)), noted.has(2, unit(1)), noted.has(1, unit(2))]).toEqual([true, false, false])
  noted.forget({ number: 1, unit: unit(1) })
  noted.forget({ number: 1, unit: unit(2) })
  expect(noted.has(1, unit(1))).toBe(false)
})

test('of a few hundred thousand nearly all are known, and nobody who never came', () => {
  const noted = new Noted()
  const came = Array.from({ length: 300_000 }, (_, n) => ({ number: n % 7, unit: unit(n) }))
  came.forEach((note) => noted.add(note))
  const isKnown = ({ number, unit: of }: (typeof came)[number]) => noted.has(number, of)
  expect(came.filter(isKnown).length / came.length).toBeGreaterThan(0.998)
  const strangers = Array.from({ length: 100_000 }, (_, n) => ({ number: n % 7, unit: unit(came.length + n) }))
  expect(strangers.filter(isKnown)).toEqual([])
})

test('in a full set whoever comes pushes out the one who has been there longest, and nobody is there twice', () => {
  const noted = new Noted()
  // All of one set: the same place, and seals of their own.
  const notes: Note[] = []
  for (let tried = 0; notes.length < 9; tried++) {
    const of = { high: tried, low: tried * 3 }
    if (mixed(0, of) % 2 ** 17 === 5) notes.push({ number: 0, unit: of })
  }
  const known = () => notes.map(({ number, unit: of }) => noted.has(number, of))
  for (const note of notes.slice(0, 8)) noted.add(note)
  for (const note of notes.slice(0, 8)) noted.add(note)
  expect(known()).toEqual([true, true, true, true, true, true, true, true, false])
  for (const note of notes.slice(8)) noted.add(note)
  expect(known()).toEqual([false, true, true, true, true, true, true, true, true])
  // The place of one who is forgotten is taken before anybody is pushed out.
  for (const note of notes.slice(4, 5)) noted.forget(note)
  for (const note of notes.slice(0, 1)) noted.add(note)
  expect(known()).toEqual([true, true, true, true, false, true, true, true, true])
})
