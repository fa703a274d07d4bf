'use client'

import { TextArea, TextField } from '../controls/fields'
import { Choice, OneOf, Switch } from '../controls/choices'
import { FindChoice } from '../controls/find-choice'
import dynamic from 'next/dynamic'
import type { ContentDocument, ContentNode, PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { Field } from '@/components/component-type'
import { titleOf } from '@/components/references'
import { componentTypes } from '@/components/types'
import { inColour } from '@/components/colours'
import { CampaignChoice } from '../frame/campaign-choice'
import { useSiteIdentity } from '../frame/studio'
import { LinkControl } from './link-control'
import { OverrideList } from './override-list'
import { PictureControl } from './picture-control'
import type { WrongField } from './wrong-field'

const RichField = dynamic(() => import('./rich-field').then((room) => room.RichField), { ssr: false })
const CodeField = dynamic(() => import('./code-field').then((room) => room.CodeField), { ssr: false })

interface FieldListProps {
  readonly node: NodeId
  readonly content: ContentNode
  /** The node as the original has it, so that what a version changed can be seen. */
  readonly original: ContentNode | undefined
  readonly surroundings: readonly ContentDocument[]
  readonly disabled: boolean
  readonly change: (prop: string, value: PropValue) => void
  /** What was typed into a field and cannot be kept. */
  readonly wrong?: (prop: string) => WrongField | undefined
  /** Fields that are not shown here, because the screen has a better place for them. */
  readonly without?: readonly string[]
}

/** The fields of the selected component, drawn from its type. */
export function FieldList({ node, content, original, surroundings, disabled, change, wrong, without = [] }: FieldListProps) {
  const type = componentTypes.get(content.type)
  if (type === undefined) return <p>This component’s type is not known here.</p>
  const fields = Object.entries(type.fields).filter(([name]) => !without.includes(name))
  if (fields.length === 0) return <p className="quiet">A {type.label} has no fields of its own; select what is in it.</p>
  return (
    <div className="fields">
      {fields.map(([name, field]) => {
        const fault = wrong?.(name)
        const value = fault?.value ?? content.props[name] ?? field.fallback
        const differs = original !== undefined && JSON.stringify(original.props[name] ?? field.fallback) !== JSON.stringify(value)
        const id = `field-${node}-${name}`
        return (
          <div key={name} className={`field${differs ? ' differs' : ''}${fault === undefined ? '' : ' wrong'}`}>
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
              content={content}
              change={(next) => change(name, next)}
              also={change}
            />
            {fault === undefined ? null : (
              <p role="alert" className="fault">
                {fault.message} It is not saved; everything else is.
              </p>
            )}
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
  readonly content: ContentNode
  readonly change: (value: PropValue) => void
  /** Sets another field along with this one. */
  readonly also: (prop: string, value: PropValue) => void
}

function Control({ id, field, value, disabled, surroundings, content, change, also }: ControlProps) {
  const { colours } = useSiteIdentity()
  const text = String(value)
  switch (field.control) {
    case 'line':
      return <TextField id={id} value={text} disabled={disabled} onChange={({ target }) => change(target.value)} />
    case 'lines':
      return <TextArea id={id} value={text} disabled={disabled} onChange={({ target }) => change(target.value)} />
    case 'rich':
      return (
        <RichField id={id} label={field.label} value={text} disabled={disabled} surroundings={surroundings} change={change} />
      )
    case 'code':
      return (
        <CodeField
          label={field.label}
          value={text}
          language={content.type === 'style' ? 'css' : 'script'}
          disabled={disabled}
          change={change}
        />
      )
    case 'marker':
      return (
        <TextField
          id={id}
          value={text}
          disabled={disabled}
          placeholder="for a goal: any of these is pressed"
          onChange={({ target }) =>
            change(
              target.value
                .toLowerCase()
                .replace(/[^a-z0-9-]+/g, '-')
                .slice(0, 40),
            )
          }
        />
      )
    case 'campaign':
      return <CampaignChoice id={id} value={text} disabled={disabled} change={change} />
    case 'overrides': {
      const shared = surroundings.find((one) => one.id === content.props.shared)
      return shared === undefined ? (
        <p className="quiet">Choose a shared component first.</p>
      ) : (
        <OverrideList shared={shared} overrides={Array.isArray(value) ? value : []} disabled={disabled} change={change} />
      )
    }
    case 'yesNo':
      return <Switch id={id} checked={value === true} disabled={disabled} change={change} />
    case 'choice': {
      const options = Object.entries(field.choices ?? {}).map(([code, label]) => ({
        value: code,
        label: inColour(code, label, colours),
      }))
      const fits = options.length <= 3 && options.reduce((sum, { label }) => sum + label.length, 0) < 30
      return fits ? (
        <OneOf id={id} value={text} disabled={disabled} options={options} change={change} />
      ) : (
        <Choice id={id} value={text} disabled={disabled} options={options} change={change} />
      )
    }
    case 'picture':
      return (
        <PictureControl
          id={id}
          kind="image"
          value={text}
          disabled={disabled}
          choose={({ name, alt }) => {
            change(name)
            // What the picture shows was asked for when it came; it is offered where nothing is said yet.
            if (alt !== '' && 'alt' in (componentTypes.get(content.type)?.fields ?? {}) && (content.props.alt ?? '') === '')
              also('alt', alt)
          }}
        />
      )
    case 'film':
      return <PictureControl id={id} kind="video" value={text} disabled={disabled} choose={({ name }) => change(name)} />
    case 'link':
      return <LinkControl id={id} value={text} disabled={disabled} surroundings={surroundings} change={change} />
    case 'document':
      return (
        <FindChoice
          id={id}
          value={text}
          disabled={disabled}
          options={surroundings
            .filter(({ kind }) => kind === field.refersTo)
            .map((one) => ({ value: one.id as string, label: titleOf(one) }))}
          change={change}
        />
      )
    default:
      return field.control satisfies never
  }
}
