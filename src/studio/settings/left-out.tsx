'use client'

import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { leftOutWords, type LeftOut } from '@/core/decide'
import { Button } from '../controls/button'
import { Switch } from '../controls/choices'
import { TextArea } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { plural } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'

const leavingOutWords = {
  bots: leftOutWords.bot,
  studioUsers: leftOutWords.studioUser,
  prefetches: leftOutWords.prefetch,
} as const
const reasonOf = { bots: 'bot', studioUsers: 'studioUser', prefetches: 'prefetch' } as const

/** Whom no test and no count is for, and how much that lately was. */
export function LeftOutBand({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const message = useMessages()
  const asked = useAsk('setting.leftOut', {}, { every: 15_000 })
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const { leavingOut } = settings
  const [addresses, setAddresses] = useState(leavingOut.addresses.join('\n'))
  const change = (part: Partial<typeof leavingOut>) =>
    save.mutate(
      { leavingOut: { ...leavingOut, ...part } },
      { onError: (reason: Refused) => void message.error(reason.message, 8) },
    )
  const lately = (reason: LeftOut) => asked.data?.lately.find((one) => one.reason === reason)?.times
  const shown = (reason: LeftOut) => {
    const times = lately(reason)
    return times === undefined
      ? ''
      : times === 0
        ? '· none in the last 7 days'
        : `· ${plural(times, 'page', 'pages')} in the last 7 days`
  }
  const written = addresses.split(/[\s,]+/).filter(Boolean)
  return (
    <section className="band" aria-label="Left out">
      <h2>Left out</h2>
      <p className="quiet lead">They see the original, and count nowhere: in no test, and not in the site’s own figures.</p>
      {(['bots', 'studioUsers', 'prefetches'] as const).map((of) => (
        <div key={of} className="setting">
          <Switch
            aria-label={`Leave out ${leavingOutWords[of]}`}
            checked={leavingOut[of]}
            disabled={!may}
            change={(on) => change({ [of]: on })}
          />
          <p>
            {capital(leavingOutWords[of])} <span className="quiet">{shown(reasonOf[of])}</span>
          </p>
        </div>
      ))}
      <p>
        {capital(leftOutWords.noConsent)}: always <span className="quiet">{shown('noConsent')}</span>
      </p>
      {settings.consent.asked ? (
        <p>
          {capital(leftOutWords.withheld)}: always <span className="quiet">{shown('withheld')}</span>
        </p>
      ) : null}
      <label className="addresses">
        <span>
          {capital(leftOutWords.address)}, and ranges such as 192.0.2.0/24 <span className="quiet">{shown('address')}</span>
        </span>
        <TextArea
          aria-label="Addresses that are left out, one on each line"
          value={addresses}
          rows={2}
          disabled={!may}
          onChange={({ target }) => setAddresses(target.value)}
        />
      </label>
      <Button
        disabled={!may || written.join() === leavingOut.addresses.join()}
        busy={save.isPending}
        onClick={() => change({ addresses: written })}
      >
        Keep these addresses
      </Button>
    </section>
  )
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)
