import type { Props } from '@/core/document'
import type { Taking } from './building'
import { attribute, elements, firstOf, headingTags, outerHtml, textOf, without, type Element } from './tree'

/** A form with its fields, in their order. */
export function takeForm(form: Element, taking: Taking): void {
  const fields = elements(form, 'input', 'select', 'textarea').filter(
    (one) => !['submit', 'hidden', 'button', 'image', 'reset'].includes(attribute(one, 'type')),
  )
  const title = firstOf(form, ...headingTags)
  const submit = elements(form, 'button').find((one) => attribute(one, 'type') !== 'button') ?? firstOf(form, 'button')
  const labels = elements(form, 'label')
  const targets = labels.filter((one) => attribute(one, 'for') !== '').reverse()
  const byTarget = new Map(targets.map((one) => [attribute(one, 'for'), one]))
  const label = (field: Element) => labelOf(labels, byTarget, field)
  // A form here holds fields alone: other words stand before it.
  const parts = [title, submit, ...fields.map(label), ...fields].filter((one) => one !== undefined)
  taking.addText(`<p>${outerHtml(without(form, ...parts), () => '')}</p>`)
  taking.add(
    'form',
    {
      ...(title === undefined ? {} : { title: taking.line(title, textOf(title)) }),
      ...(submit === undefined ? {} : { buttonWords: taking.line(submit, textOf(submit)) }),
    },
    fields.map((one) => taking.make('formField', fieldProps(label(one), one, taking))),
  )
  taking.note(form, 'the form was taken over; say which page is shown after it.')
}

/** The label that names a field, or holds it. */
function labelOf(labels: readonly Element[], byTarget: ReadonlyMap<string, Element>, field: Element): Element | undefined {
  const named = byTarget.get(attribute(field, 'id'))
  if (named !== undefined || labels.length === 0) return named
  for (let up = field.parentNode; up !== null && 'tagName' in up; up = up.parentNode) if (up.tagName === 'label') return up
  return undefined
}

function fieldProps(label: Element | undefined, field: Element, taking: Taking): Props {
  const type = attribute(field, 'type')
  const kind = field.tagName === 'input' ? (['email', 'tel', 'date'].includes(type) ? type : 'text') : field.tagName
  if (['checkbox', 'radio', 'file', 'range', 'color'].includes(type))
    taking.note(field, `a field of the kind “${type}” became one line of text.`)
  const choices = elements(field, 'option')
    .filter((option) => option.attrs.every(({ name, value }) => name !== 'value' || value !== ''))
    .map(textOf)
    .filter(Boolean)
  const words =
    (label === undefined ? '' : textOf(label)) || attribute(field, 'placeholder') || attribute(field, 'name') || 'Field'
  return {
    label: taking.line(field, words),
    name: taking.line(field, attribute(field, 'name') || 'field'),
    kind,
    required: field.attrs.some(({ name }) => name === 'required'),
    ...(choices.length === 0 ? {} : { choices: taking.line(field, choices.join(', ')) }),
  }
}
