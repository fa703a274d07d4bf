import { load, type CheerioAPI } from 'cheerio'
import type { NodeId } from '@/core/ids'

/** A part of a page that can be pressed: with all that it stands in, from the inside out. */
export interface Pressed {
  readonly nodes: readonly NodeId[]
  readonly markers: readonly string[]
}

export interface PageForm {
  readonly action: string
  readonly fields: ReadonlyMap<string, string>
}

/** A page as a browser has it, asked as the site’s own script asks it (`browser/count.ts`). */
export class ParsedPage {
  readonly #dom: CheerioAPI

  constructor(html: string) {
    this.#dom = load(html)
  }

  get document(): string {
    return this.#dom('html').attr('data-d') ?? ''
  }

  /** “round/version” of all that varies on it. */
  get varying(): string[] {
    const names = this.#dom('html, body [data-e]').toArray()
    return names.flatMap((part) => (this.#dom(part).attr('data-e') ?? '').split(' ')).filter((name) => name.includes('/'))
  }

  /** Whether a component stands on it, seen or pressed or not. */
  has(node: NodeId): boolean {
    return this.#dom('[data-n]').is((_, part) => this.#dom(part).attr('data-n') === node)
  }

  /** What a press on a component reports; `null` where there is nothing on it to press. */
  pressOn(is: { readonly node: NodeId } | { readonly marker: string }): Pressed | null {
    const dom = this.#dom
    const [name, value] = 'node' in is ? ['data-n', is.node] : ['data-m', is.marker]
    const part = dom(`[${name}]`).filter((_, one) => dom(one).attr(name) === value)
    const target = [part, part.find(PRESSABLE), part.closest(PRESSABLE)].map((one) => one.filter(PRESSABLE).first())
    const pressed = target.find((one) => one.length > 0)
    if (pressed === undefined) return null
    const chain = pressed.add(pressed.parents()).filter('[data-n]').toArray().reverse()
    const nodes = chain.map((one) => dom(one).attr('data-n') as NodeId).slice(0, 12)
    const markers = chain.flatMap((one) => dom(one).attr('data-m') ?? []).slice(0, 8)
    return { nodes, markers }
  }

  /** A form of the site with everything filled in that it asks for. */
  formAt(document: string, node: NodeId): PageForm | null {
    const dom = this.#dom
    const form = dom('form')
      .filter((_, one) => (dom(one).attr('action') ?? '').startsWith(`/forms/${document}/${node}`))
      .first()
    if (form.length === 0) return null
    const fields = new Map<string, string>()
    for (const control of form.find('input, select, textarea').toArray()) {
      const field = dom(control)
      const name = field.attr('name')
      if (name === undefined || field.attr('type') === 'submit') continue
      fields.set(
        name,
        field.is('select')
          ? (field.find('option[value!=""]').last().attr('value') ?? field.find('option').last().text())
          : filling(field.attr('type'), field.attr('value')),
      )
    }
    return { action: form.attr('action') ?? '', fields }
  }

  linksTo(address: string): boolean {
    return this.#dom('a[href]').is((_, link) => this.#dom(link).attr('href') === address)
  }

  /** Seconds after which it tells that somebody stayed, and components of which it tells that they were read. */
  tells(of: 'data-t' | 'data-r'): string[] {
    return (this.#dom('html').attr(of) ?? '').split(' ')
  }
}

const PRESSABLE = 'a, button, summary, input'

function filling(type: string | undefined, value: string | undefined): string {
  if (value !== undefined && value !== '') return value
  switch (type) {
    case 'email':
      return 'rehearsal@example.org'
    case 'tel':
      return '0491 570 156'
    case 'number':
      return '1'
    case 'date':
      return '2030-01-15'
    default:
      return 'Rehearsal'
  }
}
