import * as z from 'zod'
import { own } from '../../own'
import { nodeIdSchema } from '../../ids'
import { propNameSchema, propValueSchema } from '../document'
import { named, short } from '../vocabulary'
import { applied, refused, withNodes, type EditKind } from './kind'

export const setSchema = z.object({
  kind: z.literal('set'),
  node: nodeIdSchema,
  prop: propNameSchema,
  value: propValueSchema.optional(),
})

/** A property gets another value, or none. */
export const set: EditKind<Readonly<z.infer<typeof setSchema>>> = {
  apply: (document, { node: id, prop, value }) => {
    const node = document.nodes[id]
    if (node === undefined) return refused('nodeMissing')
    const { [prop]: was, ...others } = node.props
    const props = value === undefined ? others : { ...others, [prop]: value }
    return applied(withNodes(document, { [id]: { ...node, props } }), {
      kind: 'set',
      node: id,
      prop,
      ...(was === undefined ? {} : { value: was }),
    })
  },
  touches: (_, { node, prop }) => [`${node}.${prop}`],
  at: ({ node }) => node,
  takesInside: false,
  changes: (_, { node }) => [node],
  reach: (_, { node }) => [node],
  withProps: (document, edit, change) => {
    if (edit.value === undefined) return edit
    const value = own(change(own(document.nodes, edit.node)?.type, { [edit.prop]: edit.value }), edit.prop)
    return value === undefined ? edit : { ...edit, value }
  },
  words: (document, { node, prop, value }, words) => {
    const type = document.nodes[node]?.type
    if (type === undefined) return `changes a component that is no longer there`
    const whose = named(document, node, words)
    const field = words.fieldName(type, prop)
    const said = value === undefined ? '' : short(words.valueName(type, prop, value))
    switch (words.fieldKind(type, prop)) {
      case 'lead':
        return said === '' ? `takes away where ${whose} leads` : `changes where ${whose} leads, to “${said}”`
      case 'switch':
        return `switches “${field}” ${value === true ? 'on' : 'off'} for ${whose}`
      case 'value':
        return value === undefined ? `clears the ${field} of ${whose}` : `changes the ${field} of ${whose} to “${said}”`
    }
  },
  short: (document, { node, prop }, words) => {
    const type = document.nodes[node]?.type ?? ''
    return words.fieldKind(type, prop) === 'lead' ? 'where it leads' : words.fieldName(type, prop)
  },
}
