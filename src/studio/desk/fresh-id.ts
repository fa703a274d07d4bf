import { nodeIdSchema, versionIdSchema, type NodeId, type VersionId } from '@/core/ids'

/** An id that no part of the site has. */
export function freshId(): NodeId {
  return nodeIdSchema.parse(randomText())
}

export function freshVersion(): VersionId {
  return versionIdSchema.parse(randomText())
}

/** 80 random bits. */
function randomText(): string {
  const letters = '0123456789abcdefghijklmnopqrstuv'
  return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => letters[byte % 32]).join('')
}
