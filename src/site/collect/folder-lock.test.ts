import { mkdtempSync, writeFileSync } from 'node:fs'
import { hostname, tmpdir } from 'node:os'
import { join } from 'node:path'
import { FolderTaken, holdFolder } from './folder-lock'

const folder = () => mkdtempSync(join(tmpdir(), 'held-'))
const lock = (where: string, holder: object) => writeFileSync(join(where, 'held-by.json'), JSON.stringify(holder))

test('two processes never share a folder, and who gives it back leaves it free', () => {
  const where = folder()
  const letGo = holdFolder(where)
  expect(() => holdFolder(where)).toThrow(FolderTaken)
  expect(() => holdFolder(where)).toThrow(/SITE_SPOOL/)
  letGo()
  holdFolder(where)()
})

test.each([
  ['a process that is gone', { pid: 4_000_000, begun: '1', host: hostname() }],
  ['an earlier process with the number of one that runs', { pid: process.pid, begun: 'before', host: hostname() }],
  ['something that is no lock', {}],
])('what was left by %s is taken over', (_, holder) => {
  const where = folder()
  lock(where, holder)
  holdFolder(where)()
})

test('a machine that shares the folder and has shown itself lately keeps it', () => {
  const where = folder()
  lock(where, { pid: 1, begun: '1', host: 'another' })
  expect(() => holdFolder(where)).toThrow(FolderTaken)
})
