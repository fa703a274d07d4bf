'use client'

import { Choice, Switch } from '../controls/choices'
import { NumberField, TextField } from '../controls/fields'
import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
import { useState } from 'react'
import type { AccountView, Output } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAsk, useTell, type Refused } from '../talk'
import { SaidOfVisitors } from './attributes'
import { ConsentBand } from './consent'
import { Defaults } from './defaults'
import { Keys } from './keys'
import { LeftOutBand } from './left-out'
import { SiteName } from './site-name'
import { SettingsPlaces } from './settings-places'
import { StandIns } from './stand-ins'

/** What is decided for the whole site, who may report to it, and what stands in for the world around it. */
export function SettingsScreen({ account }: { account: AccountView }) {
  const asked = useAsk('setting.read', {})
  const may = account.role === 'administrator'
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Settings</h1>
          </header>
          <SettingsPlaces account={account} />
          {asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : (
            <>
              <SiteName key={`name ${JSON.stringify(asked.data.identity)}`} identity={asked.data.identity} may={may} />
              <LeftOutBand key={`left out ${JSON.stringify(asked.data.leavingOut)}`} settings={asked.data} may={may} />
              <ConsentBand key={`consent ${JSON.stringify(asked.data.consent)}`} settings={asked.data} may={may} />
              <SaidOfVisitors key={`said ${JSON.stringify(asked.data.attributes)}`} settings={asked.data} may={may} />
              <Defaults key={`defaults ${JSON.stringify(asked.data)}`} settings={asked.data} may={may} />
              <SiteSettings key={JSON.stringify(asked.data)} settings={asked.data} may={may} />
            </>
          )}
          <Keys may={may} />
          <StandIns account={account} />
        </>
      }
      margin={
        <>
          <Note title={may ? 'Scripts' : 'Who may change this'}>
            {may
              ? 'A script can do whatever the page can: read what visitors type, change what they see. Allow them only if you know who writes them.'
              : 'Only an administrator can change what stands under “The site”, and make keys.'}
          </Note>
          <Note title="Stand-ins">
            The service behind the forms and the shop are stood in for here, so that everything can be tried without them. A real
            one takes their place behind the same interface.
          </Note>
        </>
      }
    />
  )
}

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

function SiteSettings({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const message = useMessages()
  const [currency, setCurrency] = useState(settings.currency)
  const [zone, setZone] = useState(settings.timeZone)
  const [seconds, setSeconds] = useState(settings.bounceSeconds)
  const [days, setDays] = useState({
    auditDays: settings.auditDays,
    eventDays: settings.eventDays,
    visitorDays: settings.visitorDays,
  })
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  return (
    <section className="band" aria-label="The site">
      <h2>The site</h2>
      <div className="setting">
        <Switch
          aria-label="Scripts in variants may run"
          checked={settings.scripts}
          disabled={!may}
          change={(scripts) => save.mutate({ scripts }, failed)}
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
          change={(demonstration) => save.mutate({ demonstration }, failed)}
        />
        <p>
          {settings.demonstration
            ? 'This is a demonstration site: what the made-up readers of a newsletter do counts like what visitors do, and every number with such people in it says so.'
            : 'The people on this site are real: made-up readers of a newsletter add to its own figures, and to nothing else.'}
        </p>
      </div>
      <div className="goal-lines">
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
            change={(mail) => save.mutate({ mail }, failed)}
          />
        </label>
        <label>
          <span>Currency</span>
          <TextField
            aria-label="Currency"
            className="short"
            value={currency}
            maxLength={3}
            disabled={!may}
            onChange={({ target }) => setCurrency(target.value.toUpperCase())}
          />
          <span className="quiet">what goals and orders are worth is in it (ISO 4217)</span>
        </label>
        <label>
          <span>Time zone</span>
          <FindChoice
            aria-label="Time zone"
            value={zone}
            disabled={!may}
            options={zones.map((name) => ({ value: name, label: name.replaceAll('_', ' ') }))}
            change={setZone}
          />
          <span className="quiet">days are counted, and times shown, by its clock; what was counted before stays as it is</span>
        </label>
        <label>
          <span>A bounce</span>
          <NumberField
            aria-label="Seconds of a bounce"
            value={seconds}
            min={1}
            max={600}
            digits={0}
            disabled={!may}
            unit="seconds"
            change={setSeconds}
          />
          <span className="quiet">leaving the first page sooner, having done nothing</span>
        </label>
        {keptFor.map(({ name, label, least, about, of }) => (
          <label key={of}>
            <span>{name}</span>
            <NumberField
              aria-label={label}
              value={days[of]}
              min={least}
              max={3650}
              digits={0}
              disabled={!may}
              unit="days"
              change={(value) => setDays({ ...days, [of]: value ?? 400 })}
            />
            <span className="quiet">{about}</span>
          </label>
        ))}
      </div>
      <Button
        disabled={
          !may ||
          (currency === settings.currency &&
            zone === settings.timeZone &&
            seconds === settings.bounceSeconds &&
            keptFor.every(({ of }) => days[of] === settings[of]))
        }
        busy={save.isPending}
        onClick={() => save.mutate({ currency, timeZone: zone, bounceSeconds: seconds, ...days }, failed)}
      >
        Keep these
      </Button>
    </section>
  )
}
