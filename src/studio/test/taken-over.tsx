'use client'

import type { Output } from '@/contract/contract'
import { OneUnder } from '../controls/choices'
import { plural } from '../frame/wording'

type Preview = Output<'test.preview'>
type Taken = Preview['edits'][number]
export type Place = Pick<Taken, 'document' | 'index'>

const isSame = (one: Place, other: Place) => one.document === other.document && one.index === other.index

/** What changes on the site, edit by edit; of what somebody has changed since, it is asked which of the two stays. */
export function TakenOver({
  name,
  view,
  without,
  setWithout,
}: {
  name: string
  view: Preview
  without: readonly Place[]
  setWithout: (without: readonly Place[]) => void
}) {
  const clashing = view.edits.filter(({ fit }) => fit === 'clashes')
  return (
    <>
      <p>
        Everybody sees {name} from now on. This changes on{' '}
        {view.documents
          .map(({ title, places }) => (places > 1 ? `“${title}”, which ${plural(places, 'page', 'pages')} show` : `“${title}”`))
          .join(' and on ')}
        :
      </p>
      <ul>
        {view.edits
          .filter(({ fit }) => fit !== 'clashes')
          .map((edit) => (
            <li key={`${edit.document} ${edit.index}`} className={edit.fit === 'fits' ? '' : 'quiet'}>
              {edit.fit === 'unfit' ? 'no longer fits and is left out: ' : edit.fit === 'there' ? 'is so already: ' : ''}
              {edit.words}
            </li>
          ))}
      </ul>
      {clashing.length === 0 ? null : (
        <section aria-label="Changed since the test began">
          <h3>Changed since the test began</h3>
          {clashing.map((edit) => (
            <Clash
              key={`${edit.document} ${edit.index}`}
              edit={edit}
              stays={without.some((one) => isSame(one, edit))}
              choose={(stays) => {
                const others = without.filter((one) => !isSame(one, edit))
                setWithout(stays ? [...others, { document: edit.document, index: edit.index }] : others)
              }}
            />
          ))}
        </section>
      )}
    </>
  )
}

function Clash({ edit, stays, choose }: { edit: Taken; stays: boolean; choose: (stays: boolean) => void }) {
  return (
    <div className="clash">
      <OneUnder
        aria-label={edit.words}
        value={stays ? 'now' : 'variant'}
        change={(which) => choose(which === 'now')}
        options={[
          { value: 'variant', label: <>The variant, as it was measured: {edit.words}</> },
          { value: 'now', label: <>As it is now, after an edit that {edit.since.join(' and ')}</> },
        ]}
      />
    </div>
  )
}
