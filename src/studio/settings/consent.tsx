import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { Button } from '../controls/button'
import { Switch } from '../controls/choices'
import { TextArea, TextField } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { useTell, type Refused } from '../talk'

/** Whether visitors are asked before anything is kept of them, and in which words. */
export function ConsentBand({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const message = useMessages()
  const { consent } = settings
  const [{ words, yes, no }, setTexts] = useState(consent)
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const change = (part: Partial<typeof consent>) =>
    save.mutate({ consent: { ...consent, ...part } }, { onError: (reason: Refused) => void message.error(reason.message, 8) })
  const set = (part: Partial<typeof consent>) => setTexts((before) => ({ ...before, ...part }))
  const isSame = words === consent.words && yes === consent.yes && no === consent.no
  return (
    <section className="band" aria-label="Consent">
      <h2>Consent</h2>
      <div className="setting">
        <Switch
          aria-label="Ask visitors before anything is kept"
          checked={consent.asked}
          disabled={!may}
          change={(asked) => change({ asked })}
        />
        <p>
          {consent.asked
            ? 'Visitors are asked at the foot of the page. Until they say yes nothing is kept in their browser, they see the originals of all tests, and they count nowhere. They can change their mind at /consent.'
            : 'Visitors are not asked. Whoever’s browser asks not to be followed is left alone all the same.'}
        </p>
      </div>
      <div className="goal-lines">
        <label>
          <span>Asked</span>
          <TextArea
            aria-label="What visitors are asked"
            value={words}
            maxLength={400}
            disabled={!may}
            onChange={({ target }) => set({ words: target.value })}
          />
        </label>
        <label>
          <span>Yes</span>
          <TextField
            aria-label="The word for yes"
            className="short"
            value={yes}
            maxLength={40}
            disabled={!may}
            onChange={({ target }) => set({ yes: target.value })}
          />
        </label>
        <label>
          <span>No</span>
          <TextField
            aria-label="The word for no"
            className="short"
            value={no}
            maxLength={40}
            disabled={!may}
            onChange={({ target }) => set({ no: target.value })}
          />
        </label>
      </div>
      <Button disabled={!may || isSame} busy={save.isPending} onClick={() => change({ words, yes, no })}>
        Keep these words
      </Button>
    </section>
  )
}
