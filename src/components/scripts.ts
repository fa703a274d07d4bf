import { propsBroughtBy, type ContentDocument, type ContentNode, type Edit, type Props } from '@/core/document'
import { readOverrides } from './shared/overrides'

/*
 * A script is known by its code, not by the edit that brought it: whichever way it came, setting, inserting, replacing,
 * overriding at a place, a file or a copy, it runs only where its code is one that an administrator put in.
 */

/** The codes of all scripts that a document brings, its own and those that its places of shared components set. */
export function codesIn(document: Pick<ContentDocument, 'nodes'>): string[] {
  return unique(Object.values(document.nodes).flatMap(codesOf))
}

/** The codes of all scripts that edits can bring, whatever they are applied to, today or later. */
export function codesBroughtBy(edits: readonly Edit[]): string[] {
  return unique(propsBroughtBy(edits).flatMap(codesOfProps))
}

function codesOf({ type, props }: ContentNode): string[] {
  return type === 'script' || type === 'shared' ? codesOfProps(props) : []
}

/** A property of this name is a script’s code on whatever it may once stand. */
function codesOfProps({ code, overrides }: Props): string[] {
  const own = typeof code === 'string' ? [code] : []
  const placed = Array.isArray(overrides) ? readOverrides(overrides as readonly string[]) : []
  return [...own, ...placed.flatMap(({ prop, value }) => (prop === 'code' ? [String(value)] : []))]
}

function unique(codes: readonly string[]): string[] {
  return [...new Set(codes)].filter((code) => code.trim() !== '')
}
