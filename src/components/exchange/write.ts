import type { Condition, Segment } from '@/core/decide'
import type { ContentDocument } from '@/core/document'
import type { Design, Version } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import type { DocumentId, NodeId } from '@/core/ids'
import { branchEdits, branchOf } from './branch'

/** A document, a version of a part, a test, segments, or the rules of a part, as they are here. */
export type Exchange =
  | { readonly kind: 'document'; readonly document: ContentDocument }
  | { readonly kind: 'variant'; readonly document: DocumentId; readonly node: NodeId; readonly variant: Version }
  | {
      readonly kind: 'test'
      readonly design: Design
      readonly versions: readonly (Version & { readonly part: number })[]
      readonly goals: readonly Goal[]
    }
  | { readonly kind: 'segments'; readonly segments: readonly Segment[] }
  | {
      readonly kind: 'rules'
      readonly document: DocumentId
      readonly node: NodeId
      /** Those that the rules name. */
      readonly segments: readonly Segment[]
      readonly rules: readonly (Version & { readonly condition: Condition })[]
    }

const head = { format: 'upbeat-sprig', version: 2 } as const

export function writeExchange(content: Exchange): string {
  return `${JSON.stringify({ ...head, ...asFile(content) }, null, 2)}\n`
}

function asFile(content: Exchange): object {
  switch (content.kind) {
    case 'document': {
      const { document } = content
      return { kind: 'document', document: { id: document.id, kind: document.kind, root: branchOf(document) } }
    }
    case 'variant':
      return { ...content, variant: { ...content.variant, edits: branchEdits(content.variant.edits) } }
    case 'test':
      return { ...content, versions: content.versions.map((one) => ({ ...one, edits: branchEdits(one.edits) })) }
    case 'segments':
      return content
    case 'rules':
      return { ...content, rules: content.rules.map((one) => ({ ...one, edits: branchEdits(one.edits) })) }
    default:
      return content satisfies never
  }
}
