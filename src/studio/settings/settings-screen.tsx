'use client'

import { App, Switch } from 'antd'
import type { AccountView } from '@/contract/contract'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAsk, useTell } from '../talk'

/** What is decided for the whole site. */
export function SettingsScreen({ account }: { account: AccountView }) {
  const { message } = App.useApp()
  const asked = useAsk('setting.read', {})
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
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
            <section className="band" aria-label="Scripts">
              <h2>Scripts in variants</h2>
              <div className="setting">
                <Switch
                  aria-label="Scripts in variants may run"
                  checked={asked.data.scripts}
                  disabled={!may}
                  loading={save.isPending}
                  onChange={(scripts) => save.mutate({ scripts }, { onError: (reason) => void message.error(reason.message, 8) })}
                />
                <p>
                  {asked.data.scripts
                    ? 'Scripts that administrators write into variants run for visitors, each under its own hash in the content security policy.'
                    : 'No script of a variant runs on the site. A test whose variant brings one cannot start.'}
                </p>
              </div>
            </section>
          )}
        </>
      }
      margin={
        <Note>
          {may
            ? 'A script can do whatever the page can: read what visitors type, change what they see. Allow them only if you know who writes them.'
            : 'Only an administrator can change these.'}
        </Note>
      }
    />
  )
}
