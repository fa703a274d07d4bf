'use client'

import { useState } from 'react'
import type { Input, Output } from '@/contract/contract'
import { Button } from '../controls/button'
import { Choice, Switch } from '../controls/choices'
import { NumberField, TextField } from '../controls/fields'
import { FindChoice } from '../controls/find-choice'
import { useMessages } from '../frame/messages'
import { useTell } from '../talk'

type Settings = Output<'setting.read'>

const zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((name) => name !== 'UTC')]

const keptFor = [
  {
    of: 'auditDays',
    name: 'Who did what',
    label: 'Days for which it is kept who did what',
    least: 30,
    about: 'is kept this long',
  },
  {
    of: 'eventDays',
    name: 'What visitors do',
    label: 'Days for which it is kept what visitors do',
    least: 120,
    about: 'is kept one by one this long; what was counted stays',
  },
  {
    of: 'visitorDays',
    name: 'Visitors',
    label: 'Days for which a visitor is remembered',
    least: 90,
    about: 'are remembered this long after they came last, with all that they did',
  },
] as const

/** What holds for the whole site. What is switched is kept at once, what is written with a button. */
export function SiteSettings({ settings, may }: { settings: Settings; may: boolean }) {
  const message = useMessages()
  const [typed, setTyped] = useState(() => typedIn(settings))
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const keep = (changed: Input<'setting.save'>) =>
    save.mutate(changed, { onError: (reason) => void message.error(reason.message, 8) })
  const props = { settings, may, keep }
  return (
    <section className="band" aria-label="The site">
      <h2>The site</h2>
      <Switches {...props} />
      <div className="goal-lines">
        <MailChoice {...props} />
        <TypedLines typed={typed} may={may} change={(part) => setTyped({ ...typed, ...part })} />
      </div>
      <Button
        disabled={!may || JSON.stringify(typed) === JSON.stringify(typedIn(settings))}
        busy={save.isPending}
        onClick={() => keep(typed)}
      >
        Keep these
      </Button>
    </section>
  )
}

interface Switched {
  readonly settings: Settings
  readonly may: boolean
  readonly keep: (changed: Input<'setting.save'>) => void
}

function Switches({ settings, may, keep }: Switched) {
  return (
    <>
      <div className="setting">
        <Switch
          aria-label="Scripts in variants may run"
          checked={settings.scripts}
          disabled={!may}
          change={(scripts) => keep({ scripts })}
        />
        <p>
          {settings.scripts
            ? 'Scripts that administrators write into variants run for visitors, each under its own hash in the content security policy.'
            : 'No script of a variant runs on the site. A test whose variant brings one cannot start.'}
        </p>
      </div>
      <div className="setting">
        <Switch
          aria-label="This is a demonstration site"
          checked={settings.demonstration}
          disabled={!may}
          change={(demonstration) => keep({ demonstration })}
        />
        <p>
          {settings.demonstration
            ? 'This is a demonstration site: what the made-up readers of a newsletter do counts like what visitors do, and every number with such people in it says so.'
            : 'The people on this site are real: made-up readers of a newsletter add to its own figures, and to nothing else.'}
        </p>
      </div>
    </>
  )
}

function MailChoice({ settings, may, keep }: Switched) {
  return (
    <label>
      <span>Mail</span>
      <Choice
        aria-label="How links to passwords are sent"
        value={settings.mail}
        disabled={!may}
        options={[
          { value: 'none', label: 'links are handed on by hand' },
          { value: 'standIn', label: 'a stand-in keeps what would be sent' },
        ]}
        change={(mail) => keep({ mail })}
      />
    </label>
  )
}

const typedIn = ({ currency, timeZone, bounceSeconds, auditDays, eventDays, visitorDays }: Settings) => ({
  ...{ currency, timeZone, bounceSeconds, auditDays, eventDays, visitorDays },
})
type Typed = ReturnType<typeof typedIn>

interface TypedProps {
  readonly typed: Typed
  readonly may: boolean
  readonly change: (part: Partial<Typed>) => void
}

function TypedLines({ typed, may, change }: TypedProps) {
  return (
    <>
      <label>
        <span>Currency</span>
        <TextField
          aria-label="Currency"
          className="short"
          value={typed.currency}
          maxLength={3}
          disabled={!may}
          onChange={({ target }) => change({ currency: target.value.toUpperCase() })}
        />
        <span className="quiet">what goals and orders are worth is in it (ISO 4217)</span>
      </label>
      <label>
        <span>Time zone</span>
        <FindChoice
          aria-label="Time zone"
          value={typed.timeZone}
          disabled={!may}
          options={zones.map((name) => ({ value: name, label: name.replaceAll('_', ' ') }))}
          change={(timeZone) => change({ timeZone })}
        />
        <span className="quiet">days are counted, and times shown, by its clock; what was counted before stays as it is</span>
      </label>
      <label>
        <span>A bounce</span>
        <NumberField
          aria-label="Seconds of a bounce"
          value={typed.bounceSeconds}
          min={1}
          max={600}
          digits={0}
          disabled={!may}
          unit="seconds"
          change={(bounceSeconds) => change({ bounceSeconds })}
        />
        <span className="quiet">leaving the first page sooner, having done nothing</span>
      </label>
      {keptFor.map(({ name, label, least, about, of }) => (
        <label key={of}>
          <span>{name}</span>
          <NumberField
            aria-label={label}
            value={typed[of]}
            min={least}
            max={3650}
            digits={0}
            disabled={!may}
            unit="days"
            change={(value) => change({ [of]: value ?? 400 })}
          />
          <span className="quiet">{about}</span>
        </label>
      ))}
    </>
  )
}
