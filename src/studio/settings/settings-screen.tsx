'use client'

import { App, Button, Input, InputNumber, Switch } from 'antd'
import { useState } from 'react'
import type { AccountView, Output } from '@/contract/contract'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAsk, useTell, type Refused } from '../talk'
import { Keys } from './keys'
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
          {asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : (
            <SiteSettings key={JSON.stringify(asked.data)} settings={asked.data} may={may} />
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

function SiteSettings({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const { message } = App.useApp()
  const [currency, setCurrency] = useState(settings.currency)
  const [seconds, setSeconds] = useState(settings.bounceSeconds)
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
          loading={save.isPending}
          onChange={(scripts) => save.mutate({ scripts }, failed)}
        />
        <p>
          {settings.scripts
            ? 'Scripts that administrators write into variants run for visitors, each under its own hash in the content security policy.'
            : 'No script of a variant runs on the site. A test whose variant brings one cannot start.'}
        </p>
      </div>
      <div className="goal-lines">
        <label>
          <span>Currency</span>
          <Input
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
          <span>A bounce</span>
          <InputNumber
            aria-label="Seconds of a bounce"
            value={seconds}
            min={1}
            max={600}
            precision={0}
            disabled={!may}
            suffix="seconds"
            onChange={(value) => setSeconds(value ?? 5)}
          />
          <span className="quiet">leaving the first page sooner, having done nothing</span>
        </label>
      </div>
      <Button
        disabled={!may || (currency === settings.currency && seconds === settings.bounceSeconds)}
        loading={save.isPending}
        onClick={() => save.mutate({ currency, bounceSeconds: seconds }, failed)}
      >
        Keep these
      </Button>
    </section>
  )
}
