'use client'

import { OneOf } from '../controls/choices'
import { Several } from '../controls/several'
import { FindChoice } from '../controls/find-choice'
import { useMemo, useState } from 'react'
import type { AccountView, DocumentView } from '@/contract/contract'
import { apply, nodeAt, type ContentDocument, type PropValue } from '@/core/document'
import { propsOf } from '@/components/component-type'
import { titleOf } from '@/components/references'
import { style } from '@/components/style/fields'
import { isFor } from '@/components/style/reach'
import { scopeStyle } from '@/components/style/scope'
import { componentTypes, content } from '@/components/types'
import { CodeField } from '../desk/code-field'
import { useDesk } from '../desk/desk'
import { PageFrame } from '../desk/page-frame'
import { NodeFields, useWholeDesk, WholeDesk } from '../desk/whole-desk'
import { Note } from '../frame/screen'
import { plural } from '../frame/wording'
import { useAsk } from '../talk'

const SAMPLES = 3

/** Rules for one kind of part on some of the pages, written beside the pages that they change. */
export function StyleDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(account, view, refetch)
  const { state, shown, version, locked } = desk
  const { document } = state
  const whole = useWholeDesk(desk)
  const { other } = whole
  const [chosen, setChosen] = useState<string | null>(null)
  const [width, setWidth] = useState(1280)
  const reached = useMemo(() => view.surroundings.filter((page) => isFor(shown, page)), [view.surroundings, shown])
  const samples = reached.slice(0, SAMPLES)
  const sample = samples.find(({ id }) => id === chosen) ?? samples[0]
  const around = useMemo(() => [...view.surroundings, shown], [view.surroundings, shown])
  const about = propsOf(style, nodeAt(shown, shown.root))
  const faults = scopeStyle(about.css, shown.id).faults
  return (
    <WholeDesk
      account={account}
      whole={whole}
      kind="style"
      tools={
        <OneOf
          aria-label="Width of the page"
          value={width}
          change={setWidth}
          options={[
            { value: 390, label: 'Narrow' },
            { value: 1280, label: 'Wide' },
          ]}
        />
      }
      stage={
        <div className="style-stage">
          <section className="style-rules" aria-label="Rules">
            <CodeField
              label="Rules"
              value={about.css}
              language="css"
              disabled={locked}
              change={(css) => desk.write(shown.root, 'css', css, false)}
            />
            <p className={faults.length === 0 ? 'quiet' : 'asks'} role="status">
              {faults[0] === undefined
                ? 'Selectors stand for what is inside the part; “:scope” is the part itself. Nothing reaches beyond it.'
                : `Line ${faults[0].line}: ${faults[0].message} Until then none of these rules is used.`}
            </p>
          </section>
          {sample === undefined ? (
            <p className="empty">No page is reached yet. Say in the margin which pages it is for.</p>
          ) : (
            <section className="style-sample" aria-label="Sample">
              <OneOf
                aria-label="Sample of the pages"
                size="small"
                value={sample.id as string}
                options={samples.map((page) => ({ value: page.id as string, label: titleOf(page) }))}
                change={setChosen}
              />
              <div className="style-pages">
                {other === undefined ? null : (
                  <SamplePage page={sample} surroundings={[...view.surroundings, document]} width={width} />
                )}
                <SamplePage
                  page={sample}
                  surroundings={other === undefined ? around : [...view.surroundings, apply(document, other.edits).document]}
                  width={width}
                />
              </div>
            </section>
          )}
        </div>
      }
      fields={
        <Note title="Where it is used">
          {version === undefined ? (
            <>
              <NodeFields desk={desk} node={document.root} without={['css', 'part', 'pattern']} />
              <Reach
                about={about}
                pages={view.surroundings}
                change={(prop, value) => desk.write(document.root, prop, value, false)}
              />
            </>
          ) : null}
          <p>
            It reaches {plural(reached.length, 'page', 'pages')}
            {reached.length === 0
              ? '.'
              : `: ${reached.slice(0, 6).map(titleOf).join(', ')}${reached.length > 6 ? ' and others' : ''}.`}
          </p>
        </Note>
      }
    />
  )
}

/** Pages are known here by their roots alone; a sample is read whole. */
function SamplePage({
  page,
  surroundings,
  width,
}: {
  page: ContentDocument
  surroundings: readonly ContentDocument[]
  width: number
}) {
  const asked = useAsk('document.open', { document: page.id })
  if (asked.data === undefined) return <p className="waiting">Reading …</p>
  return (
    <PageFrame
      document={asked.data.published ?? asked.data.document}
      surroundings={surroundings.filter(({ id }) => id !== page.id)}
      width={width}
      label={`The page: ${titleOf(page)}`}
    />
  )
}

/** Which part it is for, and the type, the pages or the addresses, each as it is chosen best. */
function Reach({
  about,
  pages,
  change,
}: {
  about: { reach: string; pattern: string; part: string }
  pages: readonly ContentDocument[]
  change: (prop: string, value: PropValue) => void
}) {
  const patterns = about.pattern.split('\n').filter(Boolean)
  const onlyPages = pages.filter(({ kind }) => kind === 'page')
  const types = [...new Set(onlyPages.map((page) => String(nodeAt(page, page.root).props.pageType ?? 'Page')))].sort()
  const addresses = onlyPages.map((page) => String(nodeAt(page, page.root).props.path ?? ''))
  const options =
    about.reach === 'type'
      ? types.map((type) => ({ value: type, label: type }))
      : about.reach === 'chosen'
        ? onlyPages.map((page) => ({ value: page.id as string, label: titleOf(page) }))
        : addresses.map((address) => ({ value: address, label: address }))
  const patternWords = about.reach === 'type' ? 'Page types' : about.reach === 'chosen' ? 'Pages' : 'Addresses, or parts of them'
  return (
    <>
      {about.reach === 'every' ? null : (
        <div className="field">
          <label htmlFor="style-pattern">{patternWords}</label>
          <Several
            id="style-pattern"
            aria-label={patternWords}
            own={about.reach !== 'type' && about.reach !== 'chosen'}
            values={patterns}
            options={options}
            change={(values) => change('pattern', values.join('\n'))}
          />
        </div>
      )}
      <div className="field">
        <label htmlFor="style-part">Which part</label>
        <FindChoice
          id="style-part"
          className="broad"
          value={about.part}
          options={[
            { value: 'page', label: 'the whole page' },
            ...['section', ...content].map((type) => ({
              value: type,
              label: `every ${componentTypes.get(type)?.label ?? type}`,
            })),
          ]}
          change={(part: string) => change('part', part)}
        />
      </div>
    </>
  )
}
