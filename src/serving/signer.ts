import { createHmac, timingSafeEqual } from 'node:crypto'
import type { Signer } from '@/core/letter'

/** Signs with HMAC-SHA-256, cut to 128 bits (RFC 2104, section 5). Without a key nothing is signed and nothing fits. */
export function signerWith(key: string): Signer {
  const sign = (text: string) => createHmac('sha256', Buffer.from(key, 'hex')).update(text).digest().subarray(0, 16)
  return {
    sign: (text) => sign(text).toString('base64url'),
    fits: (text, signature) => {
      const given = Buffer.from(signature, 'base64url')
      return key !== '' && given.length === 16 && timingSafeEqual(given, sign(text))
    },
  }
}
