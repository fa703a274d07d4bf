import type { NodeId } from '@/core/ids'
import { accordion, accordionItem } from './accordion/fields'
import { banner } from './banner/fields'
import { button } from './button/fields'
import { callToAction, callToActionText } from './call-to-action/fields'
import { card, cardList } from './card-list/fields'
import { column, columns } from './columns/fields'
import { checkProps, marker, type ComponentType, type Field } from './component-type'
import { form, formField } from './form/fields'
import { gallery, galleryPicture } from './gallery/fields'
import { heading } from './heading/fields'
import { hero } from './hero/fields'
import { letter } from './letter/fields'
import { mainPart } from './main-part/fields'
import { menu, menuItem, menuTree } from './menu/fields'
import { page } from './page/fields'
import { pageList } from './page-list/fields'
import { picture } from './picture/fields'
import { plan, planTable } from './plan-table/fields'
import { quote } from './quote/fields'
import { plainText } from './rich-text'
import { script } from './script/fields'
import { section } from './section/fields'
import { shared, sharedPart } from './shared/fields'
import { step, steps } from './steps/fields'
import { style } from './style/fields'
import { tab, tabs } from './tabs/fields'
import { testimonial } from './testimonial/fields'
import { text } from './text/fields'
import { video } from './video/fields'
import type { ContentDocument, ContentNode, DocumentKind, Edit, Props, Vocabulary } from '@/core/document'
import { applyEdit, documentSchema, nodeAt, walk, withProps } from '@/core/document'
import type { Identity } from '@/core/identity'
import { own } from '@/core/own'
import { inColour } from './colours'

/** Every component type by its name: a type is a folder, a line here, one in `looks.ts` and one in `html/write.ts`. */
const all = {
  page,
  mainPart,
  section,
  columns,
  column,
  heading,
  text,
  hero,
  quote,
  testimonial,
  banner,
  picture,
  gallery,
  galleryPicture,
  video,
  accordion,
  accordionItem,
  tabs,
  tab,
  steps,
  step,
  cardList,
  card,
  pageList,
  planTable,
  plan,
  button,
  callToAction,
  callToActionText,
  form,
  formField,
  shared,
  sharedPart,
  menu,
  menuTree,
  menuItem,
  style,
  script,
  letter,
} as const
export type TypeName = keyof typeof all

// Each stands under the name that it has itself.
all satisfies { readonly [Name in TypeName]: { readonly type: Name } }

/** A type as all others see it: with its marker, and what it holds by name. */
export interface KnownType extends ComponentType {
  readonly type: TypeName
  readonly holds: readonly string[]
}

const types: readonly (ComponentType & { readonly type: TypeName })[] = Object.values(all)
/** What may stand wherever content stands. */
export const content: readonly TypeName[] = types.filter((type) => type.content).map(({ type }) => type)

function known(type: (typeof types)[number]): KnownType {
  const { holds } = type
  return {
    ...type,
    fields: type.marked ? { ...type.fields, marker } : type.fields,
    holds: 'contentBut' in holds ? content.filter((name) => !holds.contentBut.includes(name)) : holds,
  }
}

export const componentTypes: ReadonlyMap<string, KnownType> = new Map(types.map((type) => [type.type, known(type)]))

/** Whether this part can be pressed as it is. */
export function isPressable({ type, props }: ContentNode): boolean {
  const pressable = componentTypes.get(type)?.pressable ?? false
  return typeof pressable === 'function' ? pressable(props) : pressable
}

/** What a document of each kind begins with. */
export const rootTypes: Readonly<Record<DocumentKind, string>> = {
  page: 'page',
  template: 'page',
  menu: 'menuTree',
  callToAction: 'callToActionText',
  shared: 'sharedPart',
  style: 'style',
  letter: 'letter',
}

/** Every marker in a document, with the components that carry it. */
export function markersIn(document: ContentDocument): Map<string, NodeId[]> {
  const found = new Map<string, NodeId[]>()
  for (const id of walk(document)) {
    const name = document.nodes[id]?.props.marker
    if (typeof name === 'string' && name !== '') found.set(name, [...(found.get(name) ?? []), id])
  }
  return found
}

/** A few of a component's own words. */
export function excerptOf(node: ContentNode): string {
  const type = componentTypes.get(node.type)
  const value = type === undefined || type.excerpt === null ? '' : node.props[type.excerpt]
  return typeof value === 'string' ? plainText(value) : ''
}

/** A field by the name of its type and its own. */
function fieldOf(type: string, prop: string): Field | undefined {
  return own(componentTypes.get(type)?.fields ?? {}, prop)
}

export const vocabulary: Vocabulary = {
  typeName: (type) => componentTypes.get(type)?.label ?? 'component',
  fieldName: (type, prop) => fieldOf(type, prop)?.label.toLowerCase() ?? prop,
  fieldKind: (type, prop) => {
    const control = fieldOf(type, prop)?.control
    return control === 'link' ? 'lead' : control === 'yesNo' ? 'switch' : 'value'
  },
  valueName: (type, prop, value) => {
    const field = fieldOf(type, prop)
    if (typeof value === 'boolean') return value ? 'yes' : 'no'
    if (field?.control === 'rich') return plainText(String(value))
    return own(field?.choices ?? {}, String(value)) ?? String(value)
  },
  excerpt: (document, node) => {
    // A part that has no words of its own is known by the first words in it.
    for (const id of walk(document, node)) {
      const words = excerptOf(nodeAt(document, id))
      if (words !== '') return words
    }
    return ''
  },
}

/** The same, with the titles of pages, menus and calls to action instead of their ids, and the site’s names of colours. */
export function vocabularyOf(documents: readonly ContentDocument[], { colours }: Identity): Vocabulary {
  const titles = new Map<string, string>(
    documents.map((document) => [document.id, excerptOf(nodeAt(document, document.root)) || document.id]),
  )
  return {
    ...vocabulary,
    valueName: (type, prop, value) => {
      const text = String(value)
      const control = fieldOf(type, prop)?.control
      if (control === 'document') return titles.get(text) ?? text
      if (control === 'link' && text.startsWith('page:')) return titles.get(text.slice('page:'.length)) ?? text
      const name = vocabulary.valueName(type, prop, value)
      return control === 'choice' ? inColour(text, name, colours) : name
    },
  }
}

/**
 * The one check before a document is written, on whichever way it came: what cannot be read back is not kept.
 *
 * @returns what is wrong with its size, types, properties or order, in words; or the document, rich text sanitised
 */
export function checkDocument(document: ContentDocument): { ok: true; document: ContentDocument } | { ok: false; fault: string } {
  const readable = documentSchema.safeParse(document)
  if (!readable.success) return { ok: false, fault: readable.error.issues[0]?.message ?? 'it could not be read back' }
  const root = nodeAt(document, document.root).type
  if (root !== rootTypes[document.kind])
    return {
      ok: false,
      fault: `a ${vocabulary.typeName(rootTypes[document.kind])} cannot begin with a ${vocabulary.typeName(root)}`,
    }
  const nodes: Record<string, ContentNode> = {}
  for (const id of walk(document)) {
    const node = document.nodes[id]
    const type = node === undefined ? undefined : componentTypes.get(node.type)
    if (node === undefined || type === undefined) return { ok: false, fault: `there is no component type “${node?.type ?? ''}”` }
    const checked = checkProps(type, node.props)
    if (!checked.ok) return { ok: false, fault: checked.fault }
    const stranger = node.children.map((child) => document.nodes[child]?.type ?? '').find((child) => !type.holds.includes(child))
    if (stranger !== undefined && !componentTypes.has(stranger))
      return { ok: false, fault: `there is no component type “${stranger}”` }
    if (stranger !== undefined) return { ok: false, fault: `a ${type.label} cannot hold a ${vocabulary.typeName(stranger)}` }
    nodes[id] = { ...node, props: checked.props }
  }
  return { ok: true, document: { ...document, nodes } }
}

/**
 * Edits with their rich text sanitised, so that what is stored is already clean. Each is judged by the document as the
 * edits before it leave it: a component may have been put in, or become another type, in the same list.
 */
export function cleanEdits(document: ContentDocument, edits: readonly Edit[]): Edit[] {
  let now = document
  return edits.map((edit) => {
    const clean = withProps(now, edit, cleanedProps)
    const outcome = applyEdit(now, clean)
    if (outcome.applied) now = outcome.document
    return clean
  })
}

function cleanedProps(type: string | undefined, props: Props): Props {
  return Object.fromEntries(
    Object.entries(props).map(([prop, value]) => {
      const parsed = fieldOf(type ?? '', prop)?.schema.safeParse(value)
      return [prop, parsed?.success ? parsed.data : value]
    }),
  )
}
