import { documentSchema, editsSchema } from '@/core/document'
import { FileFault, parseJson } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { componentTypes } from '../types'
import { treeEdits, treeOf, type Branch, type BranchEdit } from './branch'
import { exchangeSchema } from './schema'
import type { Exchange } from './write'

/**
 * @returns what is in the file, and what could not be taken as it is
 * @throws {FileFault} with the line of a mistake in the JSON, or the path of a value that is not allowed
 */
export function readExchange(text: string, fresh: () => NodeId): { content: Exchange; notes: readonly string[] } {
  const parsed = exchangeSchema.safeParse(parseJson(text))
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new FileFault(`${issue?.path.map(String).join(' › ') || 'the whole'}: ${issue?.message ?? 'not understood'}.`)
  }
  const notes: string[] = []
  const edited = <Of extends { name: string; edits: BranchEdit[] }>(version: Of) => {
    const linked = version.edits.map((edit) => (edit.kind === 'insert' ? { ...edit, tree: withLinks(edit.tree, notes) } : edit))
    return { ...version, edits: checked(editsSchema.safeParse(treeEdits(linked, fresh)), version.name) }
  }
  switch (parsed.data.kind) {
    case 'document': {
      const { id, kind, root } = parsed.data.document
      const tree = { id, kind, ...treeOf(withLinks(root, notes), fresh) }
      return { content: { kind: 'document', document: checked(documentSchema.safeParse(tree), 'document') }, notes }
    }
    case 'variant': {
      const { document, node, variant } = parsed.data
      return { content: { kind: 'variant', document, node, variant: edited(variant) }, notes }
    }
    case 'test': {
      const { design, versions, goals } = parsed.data
      return { content: { kind: 'test', design, versions: versions.map(edited), goals }, notes }
    }
    case 'segments':
      return { content: { kind: 'segments', segments: parsed.data.segments }, notes }
    case 'rules': {
      const { document, node, segments, rules } = parsed.data
      return { content: { kind: 'rules', document, node, segments, rules: rules.map(edited) }, notes }
    }
    default:
      return parsed.data satisfies never
  }
}

/** What only the whole tree can be asked: that it is not too large. */
function checked<Of>(
  read: { success: true; data: Of } | { success: false; error: { issues: readonly { message: string }[] } },
  where: string,
): Of {
  if (read.success) return read.data
  throw new FileFault(`${where}: ${read.error.issues[0]?.message ?? 'not understood'}.`)
}

/** Links that lead nowhere here are left open, and said. */
function withLinks(branch: Branch, notes: string[]): Branch {
  const fields = componentTypes.get(branch.type)?.fields ?? {}
  const props = Object.fromEntries(
    Object.entries(branch.props ?? {}).map(([name, value]) => {
      const field = fields[name]
      if (field?.control !== 'link' || field.schema.safeParse(value).success) return [name, value]
      notes.push(`“${String(value)}” is no address that can be followed; that link was left open.`)
      return [name, '']
    }),
  )
  return { ...branch, props, children: branch.children?.map((child) => withLinks(child, notes)) }
}
