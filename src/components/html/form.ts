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
  // A form here holds fields alone: other words stand before it.
  const parts = [title, submit, ...fields.map((field) => labelOf(form, field)), ...fields].filter((one) => one !== undefined)
  taking.addText(`<p>${outerHtml(without(form, ...parts), () => '')}</p>`)
  taking.add(
    'form',
    {
      ...(title === undefined ? {} : { title: taking.line(title, textOf(title)) }),
      ...(submit === undefined ? {} : { buttonWords: taking.line(submit, textOf(submit)) }),
    },
    fields.map((one) => taking.make('formField', fieldProps(form, one, taking))),
  )
  taking.note(form, 'the form was taken over; say which page is shown after it.')
}

function labelOf(form: Element, field: Element): Element | undefined {
  const id = attribute(field, 'id')
  const labels = elements(form, 'label')
  return (
    labels.find((one) => id !== '' && attribute(one, 'for') === id) ??
    labels.find((one) => elements(one, field.tagName).includes(field))
  )
}

function fieldProps(form: Element, field: Element, taking: Taking): Props {
  const label = labelOf(form, field)
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
