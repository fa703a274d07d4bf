'use client'

import { OpensUnder } from '../controls/opens-under'
import { ancestorsOf, nodeAt, parentOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { palette } from '@/components/component-type'
import { componentTypes } from '@/components/types'
import { holdsType, type Landing } from '../desk/landing'

const groups = Object.entries(palette).map(([group, name]) => ({
  name,
  types: [...componentTypes.values()].filter((type) => type.palette === group).map(({ type }) => type),
}))

/** New components, as far as there is a place for them at or after what is selected. */
export function Palette({
  document,
  selected,
  disabled,
  add,
}: {
  document: ContentDocument
  selected: NodeId | null
  disabled: boolean
  add: (type: string, landing: Landing) => void
}) {
  const offered = groups.flatMap(({ name, types }) => {
    const fitting = types.flatMap((type) => {
      const landing = placeFor(document, selected, type)
      return landing === null ? [] : [{ type, landing }]
    })
    return fitting.length === 0 ? [] : [{ name, fitting }]
  })
  return (
    <OpensUnder
      button={{ disabled, children: 'Add' }}
      label="Add a part"
      wide={640}
      content={(close) => (
        <div className="palette">
          {offered.map(({ name, fitting }) => (
            <section key={name} aria-label={name}>
              <h4>{name}</h4>
              {fitting.map(({ type, landing }) => (
                <button
                  key={type}
                  type="button"
                  onClick={() => {
                    close()
                    // The next key is meant for the new part, not for this button.
                    if (window.document.activeElement instanceof HTMLElement) window.document.activeElement.blur()
                    add(type, landing)
                  }}
                >
                  {componentTypes.get(type)?.label}
                </button>
              ))}
            </section>
          ))}
        </div>
      )}
    />
  )
}

/** After what is selected, or inside it, or inside the nearest part around it that takes the type; else at the end. */
export function placeFor(document: ContentDocument, selected: NodeId | null, type: string): Landing | null {
  const from = selected !== null && document.nodes[selected] !== undefined ? selected : document.root
  if (holdsType(document, from, type)) return { parent: from, after: nodeAt(document, from).children.at(-1) ?? null }
  let child = from
  for (const parent of ancestorsOf(document, from)) {
    if (holdsType(document, parent, type)) return { parent, after: child }
    child = parent
  }
  // Nothing around it takes the type: the last place on the page that does, the innermost not deeper than a section.
  const main = nodeAt(document, document.root).children.find((id) => document.nodes[id]?.type === 'mainPart')
  if (main === undefined) return null
  if (holdsType(document, main, type)) return { parent: main, after: nodeAt(document, main).children.at(-1) ?? null }
  const section = selected === null ? nodeAt(document, main).children.at(-1) : (parentOf(document, selected) ?? undefined)
  return section !== undefined && holdsType(document, section, type)
    ? { parent: section, after: nodeAt(document, section).children.at(-1) ?? null }
    : null
}
