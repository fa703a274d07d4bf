'use client'

import { useQueryClient } from '@tanstack/react-query'
import { Button } from '../controls/button'
import Link from 'next/link'
import { mayAs, type AccountView, type TestView } from '@/contract/contract'
import { ORIGINAL, WHOLE } from '@/core/decide'
import { armName, combinations, evenWeights, levelsInUse, levelsOf, MOST_ARMS, partsOf, type Design } from '@/core/experiment'
import { percent } from '@/core/numbers'
import type { VersionId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { VersionMark } from '../frame/marks'
import { plural } from '../frame/wording'
import { DrawnMiniature } from '../frame/drawn-miniature'
import { talk, type Refused } from '../talk'
import type { Editing } from './test-screen'
import { useLiveChange } from './use-live-change'

/** What varies: each part with its versions as they look, and for several parts the grid of their combinations. */
export function VersionsBand({
  account,
  test,
  editing,
  open,
}: {
  account: AccountView
  test: TestView
  editing: Editing
  open: boolean
}) {
  const { design, change } = editing
  const message = useMessages()
  const { ask, question } = useLiveChange(test)
  const running = test.status === 'running' && mayAs(account.role, 'publisher')
  const put = (arms: Design['arms'], what: string) => (open ? change({ arms }) : ask({ change: { arms }, title: `${what}?` }))
  const parts = partsOf(design)
  const client = useQueryClient()
  const takeBack = async (version: VersionId, at: number) => {
    try {
      const home = parts.find((_, part) => levelsInUse(design, part).includes(version))
      const opened = await talk('document.open', { document: home?.document ?? design.document })
      const found = opened.versions.find(({ id }) => id === version)
      if (found === undefined) return
      await talk('version.save', { id: version, lock: found.lock, edits: found.edits.filter((_, index) => index !== at) })
      await client.invalidateQueries()
    } catch (reason) {
      void message.error((reason as Refused).message, 8)
    }
  }
  return (
    <section className="band" aria-label="Versions">
      <h2>Versions</h2>
      {parts.map((part, index) => (
        <PartVersions
          key={`${part.document} ${part.node}`}
          test={test}
          design={design}
          part={index}
          may={open || running}
          turnOff={(level, name) => put(withoutLevel(design, index, level), `Turn ‘${name}’ off`)}
          add={(level, name) => put(withLevel(design, index, level), `Add ‘${name}’`)}
          leavePartOut={
            open && index > 0
              ? () => change({ further: design.further.filter((_, at) => at !== index - 1), arms: withoutPart(design, index) })
              : null
          }
          takeBack={open ? (version, at) => void takeBack(version, at) : null}
        />
      ))}
      {parts.length < 2 ? null : (
        <CombinationGrid test={test} design={design} may={open || running} put={(arms, what) => put(arms, what)} />
      )}
      {question}
    </section>
  )
}

function PartVersions({
  test,
  design,
  part,
  may,
  turnOff,
  add,
  leavePartOut,
  takeBack,
}: {
  test: TestView
  design: Design
  part: number
  may: boolean
  turnOff: (level: VersionId, name: string) => void
  add: (level: VersionId, name: string) => void
  leavePartOut: (() => void) | null
  takeBack: ((version: VersionId, edit: number) => void) | null
}) {
  const { document, node } = partsOf(design)[part] ?? design
  const home = test.parts[part]
  if (home === undefined) return null
  const levels = levelsInUse(design, part)
  const free = test.free.filter((one) => one.part === part)
  const several = design.further.length > 0
  return (
    <div className="part">
      {several || home.kind !== 'page' ? (
        <p className="part-name">
          <strong>{home.words}</strong>{' '}
          <span className="quiet">{home.kind === 'page' ? '' : `shown on ${plural(home.places, 'page', 'pages')}`}</span>
        </p>
      ) : null}
      <div className="arms">
        {levels.map((level, index) => {
          const found = test.versions.find(({ id }) => id === level)
          const name = level === ORIGINAL ? 'Original' : (found?.name ?? 'Variant')
          return (
            <figure key={level} className="arm">
              <DrawnMiniature {...(found ?? home).miniature} label={name} />
              <figcaption>
                <strong>
                  {several ? null : <VersionMark index={index} />} {name}
                </strong>
                {level === ORIGINAL ? (
                  <span className="quiet">as published</span>
                ) : (
                  <EditWords words={found?.words ?? []} takeBack={takeBack === null ? undefined : (at) => takeBack(level, at)} />
                )}
                {level === ORIGINAL || !may || levels.length < 3 ? null : (
                  <Button size="small" look="quiet" onClick={() => turnOff(level, name)}>
                    {test.status === 'running' ? 'Turn it off' : 'Leave out'}
                  </Button>
                )}
              </figcaption>
            </figure>
          )
        })}
      </div>
      {may && free.length > 0 ? (
        <p className="free-versions">
          Not in the test:{' '}
          {free.map(({ id, name }) => (
            <Button key={id} size="small" onClick={() => add(id, name)}>
              Add ‘{name}’
            </Button>
          ))}
        </p>
      ) : null}
      <p>
        <Link href={`/site/${document}?part=${node}`}>
          {home.kind === 'page' ? 'Change them on the page' : `Change them in “${home.title}”`}
        </Link>
        {leavePartOut === null ? null : (
          <Button size="small" look="quiet" onClick={leavePartOut}>
            Leave this part out
          </Button>
        )}
      </p>
    </div>
  )
}

/** Every combination of what the parts can show: for two parts a square of rows and columns, for more a list. */
function CombinationGrid({
  test,
  design,
  may,
  put,
}: {
  test: TestView
  design: Design
  may: boolean
  put: (arms: Design['arms'], what: string) => void
}) {
  const parts = partsOf(design)
  const levels = parts.map((_, part) => levelsInUse(design, part))
  const all = combinations(levels)
  const name = (id: VersionId) =>
    id === ORIGINAL ? 'Original' : (test.versions.find((version) => version.id === id)?.name ?? 'Variant')
  const toggle = (cell: { version: VersionId; levels: VersionId[] }) => {
    const without = design.arms.filter(({ version }) => version !== cell.version)
    const kept = without.length < design.arms.length ? without : [...design.arms, { ...cell, weight: 0 }]
    const ordered = all.flatMap(({ version }) => kept.find((one) => one.version === version) ?? [])
    const label = cell.levels.map(name).join(' × ')
    put(evened(ordered), without.length < design.arms.length ? `Leave out ‘${label}’` : `Bring back ‘${label}’`)
  }
  const cell = (one: { version: VersionId; levels: VersionId[] }) => (
    <CombinationCell
      key={one.version}
      {...{ design, may }}
      version={one.version}
      words={one.levels.map(name).join(' × ')}
      toggle={() => toggle(one)}
    />
  )
  const [rows = [], columns = []] = levels
  const headOf = (part: number) => test.parts[part]?.words ?? ''
  return (
    <table className="grid" aria-label="Combinations">
      <caption>
        {plural(design.arms.length, 'combination', 'combinations')} of {all.length}; each needs as many visitors as a variant of
        its own, so every one that is left out shortens the test.
      </caption>
      {parts.length === 2 ? (
        <>
          <thead>
            <tr>
              <td />
              <th colSpan={columns.length} scope="colgroup">
                <span className="quiet">{headOf(1)}</span>
              </th>
            </tr>
            <tr>
              <th scope="col">
                <span className="quiet">{headOf(0)}</span>
              </th>
              {columns.map((column) => (
                <th key={column} scope="col">
                  {name(column)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row}>
                <th scope="row">{name(row)}</th>
                {columns.map((column) => {
                  const one = all.find(({ levels: of }) => of[0] === row && of[1] === column)
                  return one === undefined ? <td key={column} /> : cell(one)
                })}
              </tr>
            ))}
          </tbody>
        </>
      ) : (
        <>
          <thead>
            <tr>
              {parts.map((part, index) => (
                <th key={part.node}>{headOf(index)}</th>
              ))}
              <th>Share</th>
            </tr>
          </thead>
          <tbody>
            {all.map((one) => (
              <tr key={one.version}>
                {one.levels.map((level, index) => (
                  <td key={parts[index]?.node}>{name(level)}</td>
                ))}
                {cell(one)}
              </tr>
            ))}
          </tbody>
        </>
      )}
    </table>
  )
}

function CombinationCell({
  design,
  version,
  words,
  may,
  toggle,
}: {
  design: Design
  version: VersionId
  words: string
  may: boolean
  toggle: () => void
}) {
  const index = design.arms.findIndex((arm) => arm.version === version)
  const found = design.arms[index]
  return (
    <td className={found === undefined ? 'left-out' : ''}>
      {found === undefined ? (
        <span className="quiet">left out</span>
      ) : (
        <strong>
          <VersionMark index={index} /> {percent(found.weight / WHOLE)}
        </strong>
      )}
      {version === ORIGINAL || !may ? null : (
        <Button
          size="small"
          look="quiet"
          aria-label={found === undefined ? `Bring back ${words}` : `Leave out ${words}`}
          disabled={found !== undefined && design.arms.length < 3}
          onClick={toggle}
        >
          {found === undefined ? 'Bring back' : 'Leave out'}
        </Button>
      )}
    </td>
  )
}

/** The design without a version of a part: the arm, or every combination that has it. */
export function withoutLevel(design: Design, part: number, level: VersionId): Design['arms'] {
  return evened(design.arms.filter(({ version }) => levelsOf(design, version)[part] !== level))
}

/** The design with one more version of a part: an arm, or every combination of it with what the other parts show. */
export function withLevel(design: Design, part: number, level: VersionId): Design['arms'] {
  if (design.further.length === 0) return evened([...design.arms, { version: level, weight: 0, levels: [] }])
  const levels = partsOf(design).map((_, index) => (index === part ? [level] : levelsInUse(design, index)))
  const added = combinations(levels).map((cell) => ({ ...cell, weight: 0 }))
  return evened([...design.arms, ...added].slice(0, MOST_ARMS))
}

/** The design without one of its parts: every combination of the others, each once; of one part left, its versions. */
function withoutPart(design: Design, part: number): Design['arms'] {
  const levels = partsOf(design).flatMap((_, index) => (index === part ? [] : [levelsInUse(design, index)]))
  const [only] = levels
  const arms =
    levels.length === 1
      ? (only ?? []).map((version) => ({ version, weight: 0, levels: [] }))
      : combinations(levels).map((cell) => ({ ...cell, weight: 0 }))
  return evened(arms)
}

function evened(arms: readonly Design['arms'][number][]): Design['arms'] {
  const weights = evenWeights(arms.length)
  return arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 }))
}

/** What a version changes, in words, edit by edit. */
function EditWords({ words, takeBack }: { words: readonly string[]; takeBack?: (edit: number) => void }) {
  if (words.length === 0) return <span className="quiet">no difference yet</span>
  return (
    <ul className="edit-words">
      {words.slice(0, 8).map((one, index) => (
        <li key={index}>
          {one}
          {takeBack === undefined ? null : (
            <Button size="small" look="quiet" onClick={() => takeBack(index)}>
              Take back
            </Button>
          )}
        </li>
      ))}
      {words.length > 8 ? <li>and {words.length - 8} more</li> : null}
    </ul>
  )
}

/** The name of an arm on this sheet. */
export function nameOfArm(test: TestView, version: VersionId): string {
  return armName(test.design, test.versions, version)
}
