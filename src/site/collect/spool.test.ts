import { appendFileSync, existsSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { open } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import * as z from 'zod'
import { Overloaded } from './group-commit'
import { Spool } from './spool'

const item = z.number()
const folder = () => mkdtempSync(join(tmpdir(), 'spool-'))

/** A destination that is there or not, as told, and never takes 13. */
function destination() {
  const there = { up: true, taken: [] as number[] }
  const door = {
    write: (items: readonly number[]) => {
      if (!there.up || items.includes(13)) return Promise.reject(new Error(there.up ? 'refused' : 'away'))
      there.taken.push(...items)
      return Promise.resolve()
    },
    isReachable: () => Promise.resolve(there.up),
    log: () => undefined,
  }
  return { there, door }
}

test('what comes while the destination is away waits on disk and is handed on in order, what is new behind it', async () => {
  const { there, door } = destination()
  const spool = new Spool(folder(), item, door)
  await spool.keep([1])
  there.up = false
  await Promise.all([spool.keep([2, 3]), spool.keep([4])])
  expect([await spool.drain(), spool.isEmpty]).toEqual([false, false])
  there.up = true
  await spool.keep([5])
  expect(there.taken).toEqual([1])
  expect(await spool.drain()).toBe(true)
  await spool.keep([6])
  expect([there.taken, spool.isEmpty]).toEqual([[1, 2, 3, 4, 5, 6], true])
})

test('a process that was killed leaves what it acknowledged to the next; half a line was never acknowledged', async () => {
  const { there, door } = destination()
  const where = folder()
  there.up = false
  const killed = new Spool(where, item, door)
  await killed.keep([1, 2])
  appendFileSync(join(where, readdirSync(where)[0] ?? ''), '7')
  await killed.close()
  const next = new Spool(where, item, door)
  expect(next.isEmpty).toBe(false)
  await next.keep([3])
  there.up = true
  await next.drain()
  expect([there.taken, readdirSync(where)]).toEqual([[1, 2, 3], []])
})

test('a full disk refuses at once and keeps what it has', async () => {
  const { there, door } = destination()
  const spool = new Spool(folder(), item, door, 4)
  there.up = false
  await spool.keep([1, 2])
  await expect(spool.keep([3])).rejects.toBeInstanceOf(Overloaded)
  there.up = true
  await spool.drain()
  expect(there.taken).toEqual([1, 2])
})

test('what can never be written, or not be read, is set aside and holds nothing up', async () => {
  const { there, door } = destination()
  const where = folder()
  const spool = new Spool(where, item, door)
  there.up = false
  await spool.keep([1, 13, 2])
  appendFileSync(join(where, readdirSync(where)[0] ?? ''), 'not a number\n')
  there.up = true
  expect(await spool.drain()).toBe(true)
  expect(there.taken).toEqual([1, 2])
  expect(existsSync(join(where, 'set-aside.ndjson'))).toBe(true)
  expect(readFileSync(join(where, 'set-aside.ndjson'), 'utf8').split('\n').sort()).toEqual(['', '13', 'not a number'])
})

test('whatever comes while the destination comes and goes and the waiting is handed on, all of it arrives', async () => {
  const { there, door } = destination()
  const spool = new Spool(folder(), item, door)
  const kept: number[] = []
  const sender = async (first: number) => {
    for (let n = first; n < first + 60; n++) {
      there.up = n % 3 === 0
      await spool.keep([n])
      kept.push(n)
    }
  }
  let over = false
  const draining = (async () => {
    while (!over) {
      there.up = true
      await spool.drain()
      await new Promise((next) => setImmediate(next))
    }
  })()
  await Promise.all([sender(1000), sender(2000), sender(3000)])
  over = true
  await draining
  there.up = true
  await spool.drain()
  expect(kept.filter((n) => !there.taken.includes(n))).toEqual([])
})

test('a disk that is full leaves nothing behind for what it refused, and takes again what it has room for', async () => {
  const { there, door } = destination()
  const where = folder()
  there.up = false
  const spool = new Spool(where, item, door)
  // A disk that has no room: every write into a file fails, as ENOSPC does.
  const handle = await open(join(where, 'other'), 'w')
  const prototype = Object.getPrototypeOf(handle) as typeof handle
  await handle.close()
  const full = jest.spyOn(prototype, 'appendFile').mockRejectedValue(new Error('ENOSPC: no space left on device'))
  for (let tries = 0; tries < 20; tries++) await expect(spool.keep([tries])).rejects.toThrow('ENOSPC')
  expect(readdirSync(where)).toEqual(['other'])
  full.mockRestore()
  await spool.keep([1])
  there.up = true
  await spool.drain()
  expect(there.taken).toEqual([1])
})
