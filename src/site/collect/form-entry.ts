import type { DocumentId, NodeId } from '@/core/ids'

/** What a visitor sent with a form. */
export interface FormEntry {
  readonly document: DocumentId
  readonly node: NodeId
  readonly values: Record<string, string>
  /** `null` where nobody's id may be kept. */
  readonly visitor: string | null
}
