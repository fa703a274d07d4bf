'use client'

import { TextArea } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import { readOverrides, withOverride } from '@/components/shared/overrides'
import { plainText } from '@/components/rich-text'
import { componentTypes } from '@/components/types'
import { walk, nodeAt, type ContentDocument } from '@/core/document'

const written = new Set(['line', 'lines', 'rich'])

/** The words of a shared component as they stand in this place: inherited, or different here. */
export function OverrideList({
  shared,
  overrides,
  disabled,
  change,
}: {
  shared: ContentDocument
  overrides: readonly string[]
  disabled: boolean
  change: (overrides: string[]) => void
}) {
  const own = readOverrides(overrides)
  const fields = walk(shared).flatMap((id) => {
    const node = nodeAt(shared, id)
    if (id === shared.root) return []
    return Object.entries(componentTypes.get(node.type)?.fields ?? {})
      .filter(([, { control }]) => written.has(control))
      .map(([prop, field]) => ({ node: id, prop, field, type: node.type, inherited: String(node.props[prop] ?? field.fallback) }))
  })
  return (
    <div className="fields">
      <p>
        <Link href={`/site/${shared.id}`}>Edit it for every place</Link>
      </p>
      {fields.map(({ node, prop, field, type, inherited }) => {
        const mine = own.find((one) => one.node === node && one.prop === prop)
        const id = `override-${node}-${prop}`
        return (
          <div key={id} className={mine === undefined ? 'field' : 'field differs'}>
            <label htmlFor={id}>
              {field.label} of the {componentTypes.get(type)?.label}
              <span className="quiet">{mine === undefined ? ' · inherited' : ' · different here'}</span>
            </label>
            <TextArea
              id={id}
              value={field.control === 'rich' ? plainText(String(mine?.value ?? inherited)) : String(mine?.value ?? inherited)}
              disabled={disabled}
              onChange={({ target }) =>
                change(
                  withOverride(
                    overrides,
                    node,
                    prop,
                    field.control === 'rich' ? `<p>${target.value.replace(/</g, '&lt;')}</p>` : target.value,
                  ),
                )
              }
            />
            {mine === undefined ? null : (
              <Button
                size="small"
                look="quiet"
                disabled={disabled}
                onClick={() => change(withOverride(overrides, node, prop, null))}
              >
                Inherit again
              </Button>
            )}
          </div>
        )
      })}
    </div>
  )
}
