import type { ReactNode } from 'react'
import { percent } from '@/core/numbers'
import type { Mix, WorthNoise } from '@/core/simulate'
import { Choice } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { useRegions } from '../frame/studio'

const noiseWords: { readonly [Of in WorthNoise]: string } = {
  same: 'all the same',
  little: 'much alike',
  much: 'very unlike each other',
  longTail: 'mostly small, a few of them huge',
}

interface Props {
  readonly mix: Mix
  readonly setMix: (mix: Mix) => void
  /** Whether they come through the pages. */
  readonly pages: boolean
  readonly worth: { readonly mean: number; readonly noise: WorthNoise }
  readonly setWorth: (worth: { mean: number; noise: WorthNoise }) => void
  readonly currency: string
}

/** Whoever is left stands in the last place, so that there are never more than all. */
const rest = (...shares: readonly number[]) => Math.max(0, 1 - shares.reduce((sum, one) => sum + one, 0))

/** Who comes: on what, from where, on which days, and who is no visitor at all. */
export function MixFields({ mix, setMix, pages, worth, setWorth, currency }: Props) {
  const regions = useRegions()
  const { devices, sources, region } = mix
  const change = (part: Partial<Mix>) => setMix({ ...mix, ...part })
  return (
    <details className="mix">
      <summary>Who they are, and when they come</summary>
      <OnWhat devices={devices} change={(to) => change({ devices: to })} />
      <FromWhere sources={sources} change={(to) => change({ sources: to })} />
      <Line words="Where they live">
        <Choice
          size="small"
          aria-label="Region that more of them live in"
          value={region?.code ?? ''}
          change={(code) => change({ region: code === '' ? null : { code, share: region?.share ?? 0.5 } })}
          options={[
            { value: '', label: 'as visitors usually do' },
            ...regions.map(({ code, name }) => ({ value: code, label: name })),
          ]}
        />
        {region === null ? null : (
          <>
            <Share name="live there" value={region.share} change={(share) => change({ region: { ...region, share } })} />
            <span className="quiet">the others as visitors usually do</span>
          </>
        )}
      </Line>
      <Line words="When">
        <Share
          name="on a day of the weekend, against 100% on another day"
          value={mix.weekends}
          most={5}
          change={(weekends) => change({ weekends })}
        />
        <Share
          name={pages ? 'come back on another day' : 'had been here before'}
          value={mix.returning}
          change={(returning) => change({ returning })}
        />
      </Line>
      {pages ? (
        <Line words="Who is no visitor">
          <Share name="are bots" value={mix.bots} most={rest(mix.studioUsers)} change={(bots) => change({ bots })} />
          <Share
            name="are signed in to the studio"
            value={mix.studioUsers}
            most={rest(mix.bots)}
            change={(studioUsers) => change({ studioUsers })}
          />
          <Share name="agree to be counted, where the site asks" value={mix.agree} change={(agree) => change({ agree })} />
        </Line>
      ) : null}
      <Line words="What they spend">
        <label>
          <NumberField
            aria-label="Worth of an order"
            className="money"
            value={worth.mean}
            {...{ min: 0, max: 1_000_000, digits: 2, unit: currency }}
            change={(mean) => setWorth({ ...worth, mean })}
          />
          <span>an order, in the mean; orders are</span>
        </label>
        <Choice
          size="small"
          aria-label="How unlike each other orders are"
          value={worth.noise}
          change={(noise) => setWorth({ ...worth, noise })}
          options={(Object.keys(noiseWords) as WorthNoise[]).map((value) => ({ value, label: noiseWords[value] }))}
        />
      </Line>
    </details>
  )
}

function OnWhat({ devices, change }: { devices: Mix['devices']; change: (devices: Mix['devices']) => void }) {
  const { phone, tablet } = devices
  return (
    <Line words="On what">
      <Share name="on phones" value={phone} most={rest(tablet)} change={(to) => change({ ...devices, phone: to })} />
      <Share name="on tablets" value={tablet} most={rest(phone)} change={(to) => change({ ...devices, tablet: to })} />
      <Rest of={rest(phone, tablet)} words="on computers" />
    </Line>
  )
}

function FromWhere({ sources, change }: { sources: Mix['sources']; change: (sources: Mix['sources']) => void }) {
  const { search, newsletter, elsewhere } = sources
  return (
    <Line words="From where">
      <Share
        name="from a search"
        value={search}
        most={rest(newsletter, elsewhere)}
        change={(to) => change({ ...sources, search: to })}
      />
      <Share
        name="from a newsletter"
        value={newsletter}
        most={rest(search, elsewhere)}
        change={(to) => change({ ...sources, newsletter: to })}
      />
      <Share
        name="from another site"
        value={elsewhere}
        most={rest(search, newsletter)}
        change={(to) => change({ ...sources, elsewhere: to })}
      />
      <Rest of={rest(search, newsletter, elsewhere)} words="directly" />
    </Line>
  )
}

function Line({ words, children }: { words: string; children: ReactNode }) {
  return (
    <div className="mix-line" role="group" aria-label={words}>
      <span className="mix-name">{words}</span>
      <div>{children}</div>
    </div>
  )
}

function Share({
  name,
  value,
  most = 1,
  change,
}: {
  name: string
  value: number
  most?: number
  change: (value: number) => void
}) {
  return (
    <label>
      <NumberField
        aria-label={`Share: ${name}`}
        value={Math.round(value * 100)}
        {...{ min: 0, max: Math.round(most * 100), digits: 0, unit: '%' }}
        change={(hundredths) => change(hundredths / 100)}
      />
      <span>{name}</span>
    </label>
  )
}

function Rest({ of, words }: { of: number; words: string }) {
  return (
    <span>
      {percent(of)} {words}
    </span>
  )
}
