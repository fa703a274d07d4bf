import { strToU8, zipSync } from 'fflate'
import sharp from 'sharp'
import type { Lots } from './bent'

/** Good small files of each kind that is taken, to be bent. */
export async function goodFiles(): Promise<Readonly<Record<'media' | 'archive' | 'orders', readonly Buffer[]>>> {
  const plain = () => sharp({ create: { width: 90, height: 60, channels: 3, background: '#654' } })
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style>.a{fill:red}</style><path class="a" d="M0 0h9v9z"/></svg>'
  const site = {
    format: 'upbeat-sprig-site',
    version: 2,
    documents: [],
    versions: [],
    tests: [],
    goals: [],
    campaigns: [],
    media: [],
  }
  return {
    media: [
      ...(await Promise.all(
        [plain().png(), plain().jpeg(), plain().webp(), plain().gif(), plain().avif()].map((one) => one.toBuffer()),
      )),
      Buffer.from(svg),
    ],
    archive: [Buffer.from(zipSync({ 'site.json': strToU8(JSON.stringify(site)) }))],
    orders: [Buffer.from('order;date;amount\nA-1;2026-11-01;12,50\n"A-2";02/11/2026;"1.234,00"\n')],
  }
}

/** The same with some of it changed, left out, doubled or broken off. */
export function bentFile(good: Buffer, lots: Lots): Buffer {
  const bytes = Buffer.from(good)
  for (let times = lots.below(5); times > 0; times--) bytes[lots.below(bytes.length)] = lots.below(256)
  const [one, other] = [lots.below(bytes.length), lots.below(bytes.length)].sort((a, b) => a - b)
  switch (lots.below(5)) {
    case 0:
      return bytes.subarray(0, other)
    case 1:
      return Buffer.concat([bytes.subarray(0, one), bytes.subarray(other)])
    case 2:
      return Buffer.concat([bytes.subarray(0, other), bytes.subarray(one)])
    default:
      return bytes
  }
}
