import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { keepings, keepingWords, WHOLE } from '@/core/decide'
import { Button } from '../controls/button'
import { Choice } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { useTell, type Refused } from '../talk'

/** What new tests and goals begin with. Those that are there stay as they are. */
export function Defaults({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const message = useMessages()
  const [wanted, setWanted] = useState({ share: settings.share, keeping: settings.keeping, withinDays: settings.withinDays })
  const save = useTell('setting.save', () => void message.success('Kept. New tests and goals begin with it.'))
  const isSame = (Object.keys(wanted) as (keyof typeof wanted)[]).every((of) => wanted[of] === settings[of])
  return (
    <section className="band" aria-label="New tests and goals">
      <h2>New tests and goals</h2>
      <div className="goal-lines">
        <label>
          <span>Share</span>
          <NumberField
            aria-label="Share of visitors who take part in a new test"
            value={(wanted.share / WHOLE) * 100}
            min={1}
            max={100}
            digits={0}
            disabled={!may}
            unit="%"
            change={(value) => setWanted({ ...wanted, share: Math.round(value) * 100 })}
          />
          <span className="quiet">of all visitors take part</span>
        </label>
        <label>
          <span>Keeping</span>
          <Choice
            aria-label="For how long a version is kept in a new test"
            value={wanted.keeping}
            disabled={!may}
            change={(keeping) => setWanted({ ...wanted, keeping })}
            options={keepings.map((value) => ({ value, label: keepingWords[value] }))}
          />
          <span className="quiet">a visitor keeps the same version</span>
        </label>
        <label>
          <span>A goal</span>
          <NumberField
            aria-label="Days within which a new goal counts"
            value={wanted.withinDays}
            min={1}
            max={90}
            digits={0}
            disabled={!may}
            unit="days"
            change={(withinDays) => setWanted({ ...wanted, withinDays })}
          />
          <span className="quiet">counts within so many days of having seen the part</span>
        </label>
      </div>
      <Button
        disabled={!may || isSame}
        busy={save.isPending}
        onClick={() => save.mutate(wanted, { onError: (reason: Refused) => void message.error(reason.message, 8) })}
      >
        Begin with these
      </Button>
    </section>
  )
}
