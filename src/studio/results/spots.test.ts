import type { NodeId } from '@/core/ids'
import { placed, pressedParts, type PressedSpot } from './spots'

const spot = (node: string, x: number, y: number, times: number, device: PressedSpot['device'] = 'phone'): PressedSpot => ({
  ...{ node: node as NodeId, x, y, times, device },
})
const boxOf = (node: string) =>
  node === 'go'
    ? { left: 100, top: 50, width: 200, height: 40 }
    : node === 'flat'
      ? { left: 0, top: 0, width: 9, height: 0 }
      : null

test('a press is drawn in the middle of its tenth, its area by how many there are', () => {
  const marks = placed([spot('go', 0, 0, 16), spot('go', 9, 9, 4)], 'phone', boxOf)
  expect(marks).toEqual([
    { x: 110, y: 52, radius: 22 },
    { x: 290, y: 88, radius: 11 },
  ])
})

test('what was pressed on another device, or has no place here, is not drawn', () => {
  expect(placed([spot('go', 1, 1, 3, 'computer'), spot('gone', 1, 1, 3), spot('flat', 1, 1, 3)], 'phone', boxOf)).toEqual([])
  expect(pressedParts([spot('go', 1, 1, 3), spot('go', 2, 1, 4), spot('gone', 1, 1, 9)], 'phone', boxOf)).toMatchObject([
    { node: 'go', times: 7 },
  ])
})
