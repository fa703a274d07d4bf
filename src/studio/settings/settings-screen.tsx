'use client'

import type { AccountView } from '@/contract/contract'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAsk } from '../talk'
import { SaidOfVisitors } from './attributes'
import { ConsentBand } from './consent'
import { Defaults } from './defaults'
import { Keys } from './keys'
import { LeftOutBand } from './left-out'
import { SettingsPlaces } from './settings-places'
import { SiteName } from './site-name'
import { SiteSettings } from './site-settings'
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
