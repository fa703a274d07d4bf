import { componentTypes } from '@/components/types'
import type { PropValue } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { own } from '@/core/own'

/** A field whose value cannot be kept: it stays as it was typed, and all others are saved. */
export interface WrongField {
  readonly value: PropValue
  readonly message: string
}

/** A field of the original, or of one version. */
export function fieldName(version: VersionId, node: NodeId, prop: string): string {
  return `${version} ${node}.${prop}`
}

/** What a field would be kept as, or why it cannot be; the same on the page and in a version. */
export function judge(
  type: string | undefined,
  prop: string,
  value: PropValue,
): { readonly value: PropValue; readonly fault: string | null } {
  const field = own(componentTypes.get(type ?? '')?.fields ?? {}, prop)
  const parsed = field?.schema.safeParse(value)
  if (field === undefined || parsed === undefined) return { value, fault: null }
  if (!parsed.success) return { value, fault: `It must be ${parsed.error.issues[0]?.message ?? 'something else'}.` }
  // What is sanitised when it is saved is not written back under somebody's hands; an address gets its written form.
  return { value: field.control === 'link' ? parsed.data : value, fault: null }
}
