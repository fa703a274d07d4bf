import { constants, deflateRawSync, gzipSync } from 'node:zlib'
import { packed } from './slab'

/** A stretch of bytes, put into deflate by itself. */
interface Piece {
  /** Ends on a whole byte, so that any other may follow (RFC 1951). */
  readonly deflated: Buffer
  readonly length: number
  readonly crc: number
  /** x^(8 · length) modulo the polynomial of CRC-32: moves a checksum over these bytes. */
  readonly shift: number
}

/** RFC 1952: deflate, no name, no time, from Unix. */
const HEAD = Buffer.from([0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 3])
/** An empty last block (RFC 1951, 3.2.6). */
const END = Buffer.from([3, 0])
/** CRC-32 of RFC 1952, its bits in reverse. */
const POLYNOMIAL = 0xedb88320
const ONE = 0x80000000

/**
 * Puts pages into gzip from stretches that were put into deflate before, once each: what a page costs is a copy,
 * however many ways there are to put it together.
 */
export class StitchedGzip {
  private readonly pieces = new WeakMap<Buffer, Piece>()

  join(parts: readonly Buffer[]): Buffer {
    const bytes: Buffer[] = [HEAD]
    let crc = 0
    let length = 0
    for (const part of parts) {
      if (part.length === 0) continue
      const piece = this.pieceOf(part)
      bytes.push(piece.deflated)
      crc = (product(piece.shift, crc) ^ piece.crc) >>> 0
      length += piece.length
    }
    const tail = Buffer.allocUnsafe(8)
    tail.writeUInt32LE(crc, 0)
    tail.writeUInt32LE(length >>> 0, 4)
    bytes.push(END, tail)
    return packed(bytes)
  }

  private pieceOf(part: Buffer): Piece {
    const before = this.pieces.get(part)
    if (before !== undefined) return before
    const whole = gzipSync(part, { level: 1 })
    const piece = {
      deflated: deflateRawSync(part, { level: 9, finishFlush: constants.Z_FULL_FLUSH }),
      length: part.length,
      // The last eight bytes of a gzip file are its checksum and its length.
      crc: whole.readUInt32LE(whole.length - 8),
      shift: power(8 * part.length),
    }
    this.pieces.set(part, piece)
    return piece
  }
}

/** Of two polynomials over GF(2) modulo that of CRC-32; the highest bit is x^0. As in zlib’s crc32_combine (M. Adler). */
function product(a: number, b: number): number {
  let sum = 0
  let factor = b
  for (let bits = a >>> 0; bits !== 0; bits = (bits << 1) >>> 0) {
    if ((bits & ONE) !== 0) sum ^= factor
    factor = (factor & 1) === 0 ? factor >>> 1 : (factor >>> 1) ^ POLYNOMIAL
  }
  return sum >>> 0
}

/** x to the n. */
function power(n: number): number {
  let result = ONE
  let square = ONE >>> 1
  for (let left = n; left > 0; left = Math.floor(left / 2)) {
    if (left % 2 === 1) result = product(square, result)
    square = product(square, square)
  }
  return result >>> 0
}
