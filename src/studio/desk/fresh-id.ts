import { nodeIdSchema, type NodeId } from '@/core/ids'

/** An id that no part of the site has: 80 random bits. */
export function freshId(): NodeId {
  const letters = '0123456789abcdefghijklmnopqrstuv'
  return nodeIdSchema.parse([...crypto.getRandomValues(new Uint8Array(16))].map((byte) => letters[byte % 32]).join(''))
}
