import { nodeAt, walk, type ContentDocument } from '@/core/document'
import type { Wiring } from '@/core/goals'
import type { DocumentId, NodeId } from '@/core/ids'
import { titleOf } from './references'
import { componentTypes, excerptOf, isPressable } from './types'

/** Something that could count, with a name for it and where it was found. */
export interface Suggestion {
  readonly name: string
  readonly why: string
  readonly wiring: Wiring
}

/**
 * Everything that could count at one component of a document: its form is accepted, it is pressed, the page it leads to
 * is shown, its link to elsewhere is followed, it is read. The likeliest comes first.
 */
export function countable(document: ContentDocument, node: NodeId, titles: ReadonlyMap<string, string>): Suggestion[] {
  const content = document.nodes[node]
  const type = componentTypes.get(content?.type ?? '')
  if (content === undefined || type === undefined) return []
  const words = excerptOf(content) || type.label
  const where = { document: document.id, node }
  const found: Suggestion[] = []
  const marker = content.props.marker
  if (content.type === 'form') {
    found.push({ name: `Sent “${words}”`, why: 'the service behind the form accepts it', wiring: { kind: 'form', ...where } })
    const next = pageOf(content.props.next)
    if (next !== null)
      found.push({
        name: `Saw “${titles.get(next) ?? next}”`,
        why: 'the page after the form is shown',
        wiring: { kind: 'page', document: next },
      })
  }
  if (isPressable(content)) {
    if (typeof marker === 'string' && marker !== '')
      found.push({
        name: `Pressed any “${marker}”`,
        why: `anything with the marker “${marker}” is pressed`,
        wiring: { kind: 'marker', marker },
      })
    found.push({ name: `Pressed “${words}”`, why: 'it is pressed', wiring: { kind: 'click', ...where } })
  }
  const link = content.props.link
  const target = pageOf(link)
  if (target !== null && titles.has(target))
    found.push({
      name: `Saw “${titles.get(target) ?? target}”`,
      why: 'the page it leads to is shown',
      wiring: { kind: 'page', document: target },
    })
  if (typeof link === 'string' && /^https?:/.test(link))
    found.push({
      name: `Followed the link to ${hostOf(link)}`,
      why: `a link to ${hostOf(link)} is followed, wherever it stands`,
      wiring: { kind: 'outbound', by: 'host', text: hostOf(link) },
    })
  if (textOf(document, node).length >= 40)
    found.push({
      name: `Read “${words.slice(0, 60)}”`,
      why: 'it is in view long enough to be read',
      wiring: { kind: 'read', ...where },
    })
  return found
}

/** What is on these documents that an editor may want to count: forms first, then the pages after them, calls to action, links. */
export function suggestions(documents: readonly ContentDocument[], titles: ReadonlyMap<string, string>): Suggestion[] {
  const found = documents.flatMap((document) =>
    walk(document).flatMap((node) => {
      const { type, props } = nodeAt(document, node)
      const wanted =
        type === 'form' || type === 'callToActionText' || (typeof props.link === 'string' && /^https?:/.test(props.link))
      return wanted
        ? countable(document, node, titles)
            .filter(({ wiring }) => wiring.kind !== 'read')
            .map((one) => ({ ...one, why: `${one.why} — “${titleOf(document)}”` }))
        : []
    }),
  )
  const rank: Partial<Record<Wiring['kind'], number>> = { form: 0, page: 1, marker: 2, click: 3, outbound: 4 }
  const unique = new Map(found.map((one) => [JSON.stringify(one.wiring), one]))
  return [...unique.values()].sort((one, other) => (rank[one.wiring.kind] ?? 9) - (rank[other.wiring.kind] ?? 9)).slice(0, 30)
}

function pageOf(link: unknown): DocumentId | null {
  const id = typeof link === 'string' ? /^page:([a-z0-9-]+)/.exec(link)?.[1] : undefined
  return id === undefined ? null : (id as DocumentId)
}

function hostOf(address: string): string {
  return /^https?:\/\/([^/?#:]+)/.exec(address)?.[1] ?? address
}

function textOf(document: ContentDocument, node: NodeId): string {
  return walk(document, node)
    .map((id) => excerptOf(nodeAt(document, id)))
    .join(' ')
}
