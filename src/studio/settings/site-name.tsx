'use client'

import { TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { useState } from 'react'
import { identitySchema, type Identity } from '@/core/identity'
import { useMessages } from '../frame/messages'
import { PictureControl } from '../desk/picture-control'
import { useTell } from '../talk'

const colourFields = [
  ['accent', 'Accent'],
  ['deep', 'Deep'],
  ['light', 'Light'],
  ['dark', 'Dark'],
] as const

/** What the site calls itself, on every page of it. */
export function SiteName({ identity, may }: { identity: Identity; may: boolean }) {
  const message = useMessages()
  const [wanted, setWanted] = useState<Identity>(identity)
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const checked = identitySchema.safeParse(wanted)
  const faultAt = (field: keyof Identity) => checked.error?.issues.find(({ path }) => path[0] === field)?.message
  const change = (part: Partial<Identity>) => setWanted({ ...wanted, ...part })
  const line = (field: 'name' | 'language' | 'smallPrint', label: string, hint: string, placeholder: string) => (
    <div className={faultAt(field) === undefined ? 'field' : 'field wrong'}>
      <label htmlFor={`site-${field}`}>
        {label} <span className="quiet">· {hint}</span>
      </label>
      <TextField
        id={`site-${field}`}
        value={wanted[field]}
        placeholder={placeholder}
        disabled={!may}
        onChange={({ target }) => change({ [field]: target.value })}
      />
      {faultAt(field) === undefined ? null : (
        <p role="alert" className="fault">
          It must be {faultAt(field)}.
        </p>
      )}
    </div>
  )
  return (
    <section className="band" aria-label="Name of the site">
      <h2>What the site calls itself</h2>
      <div className="fields">
        {line('name', 'Name', 'at the head and the foot of every page', 'The name of your site')}
        {line('language', 'Language', 'a tag such as en, de or pt-BR', 'en')}
        {line('smallPrint', 'At the foot', 'one sentence', 'Who you are, and where')}
        <fieldset className="colour-names">
          <legend>
            What its colours are called <span className="quiet">· in the studio, where one is chosen</span>
          </legend>
          {colourFields.map(([code, label]) => (
            <label key={code}>
              <span>{label}</span>
              <TextField
                value={wanted.colours[code]}
                maxLength={30}
                disabled={!may}
                onChange={({ target }) => change({ colours: { ...wanted.colours, [code]: target.value } })}
              />
            </label>
          ))}
        </fieldset>
        <div className="field">
          <label htmlFor="site-mark">Picture beside the name</label>
          <PictureControl
            id="site-mark"
            kind="image"
            value={wanted.mark}
            disabled={!may}
            choose={({ name }) => change({ mark: name })}
          />
        </div>
      </div>
      <Button
        disabled={!may || !checked.success || JSON.stringify(wanted) === JSON.stringify(identity)}
        busy={save.isPending}
        onClick={() => save.mutate({ identity: wanted }, { onError: (reason) => void message.error(reason.message, 8) })}
      >
        Keep the name
      </Button>
    </section>
  )
}
