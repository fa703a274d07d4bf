import { apply, propNameSchema, type ContentDocument, type Edit } from '@/core/document'
import { nodeIdSchema, type NodeId } from '@/core/ids'

/** One field that a place has of its own: “node field value”, the value as JSON. */
export interface Override {
  readonly node: NodeId
  readonly prop: string
  readonly value: string | number | boolean
}

export function readOverrides(lines: readonly string[]): Override[] {
  return lines.flatMap((line): Override[] => {
    const match = /^(\S+) (\S+) (.*)$/s.exec(line)
    const node = nodeIdSchema.safeParse(match?.[1])
    const prop = propNameSchema.safeParse(match?.[2])
    const value = parsed(match?.[3] ?? '')
    return node.success && prop.success && value !== null ? [{ node: node.data, prop: prop.data, value }] : []
  })
}

/** The list with one field of its own more, or without it where `value` is `null`: it inherits again. */
export function withOverride(lines: readonly string[], node: NodeId, prop: string, value: Override['value'] | null): string[] {
  const others = lines.filter((line) => !line.startsWith(`${node} ${prop} `))
  return value === null ? others : [...others, `${node} ${prop} ${JSON.stringify(value)}`]
}

/** The shared component as it stands in one place: all that is not overridden is inherited, today’s or tomorrow’s. */
export function asPlaced(shared: ContentDocument, lines: readonly string[]): ContentDocument {
  const edits = readOverrides(lines).map(({ node, prop, value }): Edit => ({ kind: 'set', node, prop, value }))
  return apply(shared, edits).document
}

function parsed(json: string): Override['value'] | null {
  try {
    const value: unknown = JSON.parse(json)
    return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? value : null
  } catch {
    return null
  }
}
