'use client'

import { Button } from '../controls/button'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { archiveReport, type ArchiveFate, type ArchiveReport } from '@/contract/contract'
import { FileChoice } from '../controls/file-choice'
import { SheetOver } from '../controls/sheet-over'
import { count, plural } from '../frame/wording'
import { send } from '../media/upload'
import { Refused } from '../talk'

/** A whole site from an archive: what it would do is said first, and what it did at the end. */
export function LoadSite() {
  const client = useQueryClient()
  const [at, setAt] = useState<{ readonly file: File; readonly report: ArchiveReport; readonly done: boolean } | null>(null)
  const [busy, setBusy] = useState(false)
  const [trouble, setTrouble] = useState<string | null>(null)
  const ask = async (file: File, address: string, done: boolean) => {
    setBusy(true)
    try {
      setAt({ file, report: archiveReport.parse(await send(address, file)), done })
      if (done) void client.invalidateQueries()
    } catch (reason) {
      setTrouble(reason instanceof Refused ? reason.message : 'The studio’s server gave an answer that could not be read.')
    } finally {
      setBusy(false)
    }
  }
  return (
    <>
      {trouble === null ? null : (
        <SheetOver title="The site was not loaded" close={() => setTrouble(null)}>
          <p>{trouble}</p>
        </SheetOver>
      )}
      <FileChoice
        label="Archive to load"
        accept=".zip"
        size="small"
        busy={busy && at === null}
        take={(file) => void ask(file, '/api/archive?look=1', false)}
      >
        Load a site
      </FileChoice>
      {at === null ? null : (
        <SheetOver title={at.done ? 'The site is loaded' : 'What loading this does'} close={() => setAt(null)}>
          <Report report={at.report} done={at.done} />
          {at.done || !doesAnything(at.report) ? null : (
            <div className="sheet-steps">
              <Button onClick={() => setAt(null)}>Not now</Button>
              <Button look="primary" busy={busy} onClick={() => void ask(at.file, '/api/archive', true)}>
                Load it
              </Button>
            </div>
          )}
        </SheetOver>
      )}
    </>
  )
}

const doesAnything = ({ groups }: ArchiveReport) => groups.some(({ new: fresh, replaced }) => fresh + replaced > 0)

const fateWords: Readonly<Record<ArchiveFate, string>> = {
  new: 'New',
  replaced: 'Replaced',
  same: 'Here as it is',
  skipped: 'Left out',
}
const fates = Object.keys(fateWords) as ArchiveFate[]

const kindWords: Readonly<Record<ArchiveReport['groups'][number]['kind'], string>> = {
  settings: 'Settings',
  documents: 'Pages, menus and other documents',
  redirects: 'Addresses of before',
  tests: 'Tests, as drafts',
  versions: 'Variants',
  history: 'Settled tests, to read',
  rules: 'Rules that are live',
  plans: 'How rules are measured',
  takenOff: 'Notebook, of rules',
  goals: 'Goals',
  segments: 'Segments',
  campaigns: 'Campaigns',
  media: 'Pictures and films',
}

function Report({ report, done }: { report: ArchiveReport; done: boolean }) {
  const skipped = report.named.filter(({ fate }) => fate === 'skipped')
  const replaced = report.named.filter(({ fate }) => fate === 'replaced')
  return (
    <div className="archive-report">
      {doesAnything(report) ? (
        done ? null : (
          <p>Documents that are replaced get a new revision and go live; the revisions before stay.</p>
        )
      ) : (
        <p>
          Nothing in this archive is new:{' '}
          {skipped.length === 0 ? 'all of it is here already.' : 'what could be loaded is here already.'}
        </p>
      )}
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">In the archive</th>
            {fates.map((fate) => (
              <th key={fate} scope="col" className="number">
                {fateWords[fate]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {report.groups
            .filter((group) => fates.some((fate) => group[fate] > 0))
            .map((group) => (
              <tr key={group.kind}>
                <th scope="row">{kindWords[group.kind]}</th>
                {fates.map((fate) => (
                  <td key={fate} className="number">
                    {group[fate] === 0 ? '–' : count(group[fate])}
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
      {skipped.length === 0 ? null : (
        <>
          <h3>Left out</h3>
          <ul>
            {skipped.map(({ name, why }, index) => (
              <li key={index}>
                <strong>{name}</strong> {why}
              </li>
            ))}
          </ul>
        </>
      )}
      {report.leftOut.length === 0 ? null : (
        <>
          <h3>Not in the archive</h3>
          <ul>
            {report.leftOut.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </>
      )}
      {replaced.length === 0 ? null : (
        <details>
          <summary>
            {plural(replaced.length, 'thing', 'things')} {done ? 'replaced' : 'to be replaced'}
          </summary>
          <ul>
            {replaced.map(({ name }, index) => (
              <li key={index}>{name}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  )
}
