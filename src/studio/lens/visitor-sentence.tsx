'use client'

import type { Output } from '@/contract/contract'
import { devices, utmFields, type Device, type Surroundings } from '@/core/decide'
import type { MadeUp } from '@/core/lens'
import { Button } from '../controls/button'
import { Choice } from '../controls/choices'
import { FindChoice } from '../controls/find-choice'
import { NumberField, TextField } from '../controls/fields'
import { Several } from '../controls/several'

interface Props {
  readonly visitor: MadeUp
  readonly around: Output<'lens.around'>
  readonly site: Surroundings
  readonly change: (part: Partial<MadeUp>) => void
}

const deviceWords: { readonly [Of in Device]: string } = { phone: 'a phone', tablet: 'a tablet', computer: 'a computer' }
const languages = ['en', 'cy', 'de', 'fr', 'es', 'it', 'nl', 'pl', 'pt', 'ro', 'tr', 'uk', 'ar', 'ur', 'pa', 'bn', 'zh']
const languageNames = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' })

/** The made-up visitor as a sentence, every word of which is changed where it stands. */
export function VisitorSentence({ visitor, around, site, change }: Props) {
  const pages = around.pages.map(({ id, title }) => ({ value: id, label: title }))
  const regions = [{ value: '', label: 'anywhere' }, ...site.regions.map(({ code, name }) => ({ value: code, label: name }))]
  return (
    <section className="lens-visitor" aria-label="The visitor">
      <p>
        <span>Somebody with</span>
        <Choice
          size="small"
          aria-label="Device"
          value={visitor.device}
          options={devices.map((value) => ({ value, label: deviceWords[value] }))}
          change={(device) => change({ device })}
        />
        <span>in</span>
        <FindChoice
          size="small"
          aria-label="Region"
          value={visitor.region ?? ''}
          options={regions}
          change={(region) => change({ region: region === '' || region === null ? null : region })}
        />
        <span>who reads</span>
        <Choice
          size="small"
          aria-label="Language"
          value={visitor.language}
          options={[
            { value: null, label: 'any language' },
            ...languages.map((value) => ({ value, label: languageNames.of(value) ?? value })),
          ]}
          change={(language) => change({ language })}
        />
        <span>on visit number</span>
        <Count label="Visit number" value={visitor.visits} max={1000} change={(visits) => change({ visits })} />
        <span>on</span>
        <TextField
          size="small"
          type="date"
          aria-label="Day"
          value={visitor.day}
          onChange={({ target }) => target.value !== '' && change({ day: target.value })}
        />
        <span>at</span>
        <Hours hour={visitor.hour} change={(hour) => change({ hour })} />
      </p>
      <p>
        <span>Saw in this visit:</span>
        <Several
          aria-label="Pages seen in this visit"
          values={visitor.pagesSeen}
          options={pages}
          placeholder="no page yet …"
          change={(pagesSeen) => change({ pagesSeen: [...pagesSeen] })}
        />
        <span>and before it:</span>
        <Several
          aria-label="Pages seen in visits before"
          values={visitor.pagesBefore}
          options={pages}
          placeholder="none …"
          change={(pagesBefore) => change({ pagesBefore: [...pagesBefore] })}
        />
        {visitor.pagesBefore.length === 0 ? null : (
          <>
            <span>each in</span>
            <Count
              label="Visits in which they were seen"
              value={visitor.beforeVisits}
              max={99}
              change={(beforeVisits) => change({ beforeVisits })}
            />
            <span>{visitor.beforeVisits === 1 ? 'visit,' : 'visits, the last'}</span>
            <Count
              label="Days since they were seen"
              value={visitor.beforeDays}
              max={365}
              change={(beforeDays) => change({ beforeDays })}
            />
            <span>{visitor.beforeDays === 1 ? 'day ago' : 'days ago'}</span>
          </>
        )}
      </p>
      <details open={hasMore(visitor)}>
        <summary>Where they came from, and what else is known of them</summary>
        <Origin {...{ visitor, change }} />
        <Known {...{ visitor, around, site, change }} />
      </details>
      <p>
        <span>Of all who are like that, person</span>
        <Count label="Person" value={visitor.person} max={9999} change={(person) => change({ person })} />
        <Button size="small" onClick={() => change({ person: (visitor.person % 9999) + 1 })}>
          Another person
        </Button>
        <span className="quiet">chance goes by who they are</span>
      </p>
    </section>
  )
}

function hasMore({ referrer, utm, goals, given, attributes }: MadeUp): boolean {
  return (
    given.length > 0 ||
    referrer !== '' ||
    goals.length > 0 ||
    Object.keys(attributes).length > 0 ||
    Object.values(utm).some((mark) => mark !== '')
  )
}

function Count(of: { label: string; value: number; max: number; change: (value: number) => void }) {
  const { label, value, max, change } = of
  return <NumberField className="few" size="small" aria-label={label} digits={0} min={1} {...{ value, max, change }} />
}

/** The time of day on a line from midnight to midnight. */
function Hours({ hour, change }: { hour: number; change: (hour: number) => void }) {
  return (
    <span className="hours">
      <input
        type="range"
        aria-label="Hour"
        aria-valuetext={`${hour} o’clock`}
        min={0}
        max={23}
        step={1}
        value={hour}
        onChange={({ target }) => change(Number(target.value))}
      />
      <output>{hour} o’clock</output>
    </span>
  )
}

function Origin({ visitor, change }: Pick<Props, 'visitor' | 'change'>) {
  return (
    <p>
      <span>Came from the site</span>
      <TextField
        size="small"
        aria-label="Site before"
        placeholder="straight here"
        value={visitor.referrer}
        maxLength={200}
        onChange={({ target }) => change({ referrer: target.value.trim() })}
      />
      <span>with the marks</span>
      {utmFields.map((field) => (
        <TextField
          key={field}
          size="small"
          className="mark-field"
          aria-label={`utm_${field}`}
          placeholder={field}
          value={visitor.utm[field]}
          maxLength={120}
          onChange={({ target }) => change({ utm: { ...visitor.utm, [field]: target.value } })}
        />
      ))}
    </p>
  )
}

function Known({ visitor, around, site, change }: Props) {
  const put = (name: string, value: string) => {
    const others = Object.entries(visitor.attributes).filter(([other]) => other !== name)
    change({ attributes: Object.fromEntries(value === '' ? others : [...others, [name, value]]) })
  }
  const given = site.tests.flatMap(({ id: test, name, versions }) =>
    versions.map(({ id: version, name: called }) => ({
      ...{ test, version, value: `${test} ${version}` },
      label: `‘${called}’ in “${name}”`,
    })),
  )
  return (
    <p>
      <span>Has reached:</span>
      <Several
        aria-label="Goals reached"
        values={visitor.goals}
        options={site.goals.map(({ id, name }) => ({ value: id, label: name }))}
        placeholder="no goal …"
        change={(goals) => change({ goals: [...goals] })}
      />
      {site.tests.length === 0 ? null : (
        <>
          <span>Was given:</span>
          <Several
            aria-label="Versions of tests given before"
            values={visitor.given.map(({ test, version }) => `${test} ${version}`)}
            options={given.map(({ value, label }) => ({ value, label }))}
            placeholder="nothing yet …"
            change={(values) =>
              change({
                given: given.filter(({ value }) => values.includes(value)).map(({ test, version }) => ({ test, version })),
              })
            }
          />
        </>
      )}
      {around.attributes.map(({ name, values }) => (
        <label key={name}>
          <span>{name}:</span>
          <Choice
            size="small"
            value={visitor.attributes[name] ?? ''}
            options={[{ value: '', label: 'not said' }, ...values.map((value) => ({ value: value as string, label: value }))]}
            change={(value) => put(name, value)}
          />
        </label>
      ))}
    </p>
  )
}
