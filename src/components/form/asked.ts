import * as z from 'zod'
import { walk, type ContentDocument } from '@/core/document'
import { documentIdSchema, nodeIdSchema, type NodeId } from '@/core/ids'
import { own } from '@/core/own'
import { propsOf } from '../component-type'
import { form, formField } from './fields'

/** What one form asks of whoever is shown it, and what follows: the same place may ask different things of others. */
export const askedFormSchema = z.object({
  document: documentIdSchema,
  node: nodeIdSchema,
  fields: z.array(z.object({ name: z.string(), label: z.string(), required: z.boolean() })),
  /** Where the visitor is led when it has been taken. */
  next: z.string(),
  /** What an order made with it is worth; 0 where nothing is ordered. */
  order: z.number().min(0),
})
export type AskedForm = Readonly<z.infer<typeof askedFormSchema>>

/** The form at this place of a document; `null` where there is none. */
export function askedForm(document: ContentDocument, node: NodeId): AskedForm | null {
  const content = own(document.nodes, node)
  if (content?.type !== 'form') return null
  const { next, order } = propsOf(form, content)
  const fields = walk(document, node).flatMap((id) => {
    const field = own(document.nodes, id)
    if (field?.type !== 'formField') return []
    const { name, label, required } = propsOf(formField, field)
    return [{ name, label, required }]
  })
  return { document: document.id, node, fields, next, order: Number(order) }
}
