'use client'

import { Input, Segmented, Select, Switch } from 'antd'
import type { ContentDocument, ContentNode, PropValue } from '@/core/document'
import { nodeAt } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { Field } from '@/components/component-type'
import { plainText } from '@/components/rich-text'
import { componentTypes } from '@/components/types'

interface FieldListProps {
  readonly node: NodeId
  readonly content: ContentNode
  /** The node as the original has it, so that what a version changed can be seen. */
  readonly original: ContentNode | undefined
  readonly surroundings: readonly ContentDocument[]
  readonly pictures: readonly string[]
  readonly disabled: boolean
  readonly change: (prop: string, value: PropValue) => void
}

/** The fields of the selected component, drawn from its type. */
export function FieldList({ node, content, original, surroundings, pictures, disabled, change }: FieldListProps) {
  const type = componentTypes.get(content.type)
  if (type === undefined) return <p>This component’s type is not known here.</p>
  const fields = Object.entries(type.fields)
  if (fields.length === 0) return <p className="quiet">A {type.label} has no fields of its own; select what is in it.</p>
  return (
    <div className="fields">
      {fields.map(([name, field]) => {
        const value = content.props[name] ?? field.fallback
        const differs = original !== undefined && JSON.stringify(original.props[name] ?? field.fallback) !== JSON.stringify(value)
        const id = `field-${node}-${name}`
        return (
          <div key={name} className={differs ? 'field differs' : 'field'}>
            <label htmlFor={id}>
              {field.label}
              {differs ? <span className="quiet"> · differs</span> : null}
            </label>
            <Control
              id={id}
              field={field}
              value={value}
              disabled={disabled}
              surroundings={surroundings}
              pictures={pictures}
              change={(next) => change(name, next)}
            />
          </div>
        )
      })}
    </div>
  )
}

interface ControlProps {
  readonly id: string
  readonly field: Field
  readonly value: PropValue
  readonly disabled: boolean
  readonly surroundings: readonly ContentDocument[]
  readonly pictures: readonly string[]
  readonly change: (value: PropValue) => void
}

function Control({ id, field, value, disabled, surroundings, pictures, change }: ControlProps) {
  const text = String(value)
  switch (field.control) {
    case 'line':
      return <Input id={id} value={text} disabled={disabled} onChange={({ target }) => change(target.value)} />
    case 'lines':
      return (
        <Input.TextArea
          id={id}
          value={text}
          disabled={disabled}
          autoSize={{ minRows: 2, maxRows: 8 }}
          onChange={({ target }) => change(target.value)}
        />
      )
    case 'rich':
      return (
        <p id={id} className="rich-words">
          {plainText(text)} <span className="quiet">Press Enter to write it on the page; Ctrl+B and Ctrl+I set words off.</span>
        </p>
      )
    case 'yesNo':
      return <Switch id={id} checked={value === true} disabled={disabled} onChange={change} />
    case 'choice': {
      const options = Object.entries(field.choices ?? {}).map(([code, label]) => ({ value: code, label }))
      const fits = options.length <= 3 && options.reduce((sum, { label }) => sum + label.length, 0) < 30
      return fits ? (
        <Segmented id={id} value={text} disabled={disabled} options={options} onChange={change} />
      ) : (
        <Select id={id} value={text} disabled={disabled} options={options} onChange={change} />
      )
    }
    case 'picture':
      return (
        <div className="picture-choice">
          {text === '' ? null : <img src={`/look/media/${text}.svg`} alt="" width={48} height={48} />}
          <Select
            id={id}
            value={text}
            disabled={disabled}
            options={[{ value: '', label: 'None' }, ...pictures.map((name) => ({ value: name, label: name }))]}
            onChange={change}
          />
        </div>
      )
    case 'link':
      return <LinkControl id={id} value={text} disabled={disabled} surroundings={surroundings} change={change} />
    case 'document':
      return (
        <Select
          id={id}
          value={text}
          disabled={disabled}
          options={surroundings
            .filter(({ kind }) => kind !== 'page')
            .map((one) => ({ value: one.id as string, label: titleOf(one) }))}
          onChange={change}
        />
      )
    default:
      return field.control satisfies never
  }
}

function LinkControl({
  id,
  value,
  disabled,
  surroundings,
  change,
}: Omit<ControlProps, 'field' | 'pictures' | 'value'> & { value: string }) {
  const inside = value.startsWith('page:')
  const pages = surroundings
    .filter(({ kind }) => kind === 'page')
    .map((page) => ({ value: `page:${page.id}`, label: titleOf(page) }))
  return (
    <div className="link-choice">
      <Select
        id={id}
        showSearch
        optionFilterProp="label"
        value={inside ? value : ''}
        disabled={disabled}
        options={[{ value: '', label: 'An address outside' }, ...pages]}
        onChange={change}
      />
      {inside ? null : (
        <Input
          aria-label="Address outside"
          placeholder="https://"
          defaultValue={value}
          disabled={disabled}
          onBlur={({ target }) => change(target.value.trim())}
        />
      )}
    </div>
  )
}

export function titleOf(document: ContentDocument): string {
  return String(nodeAt(document, document.root).props.title ?? document.id)
}
