import type { Knex } from 'knex'
import type { Output } from '@/contract/contract'
import { regionName } from '@/serving/regions'
import {
  armsEver,
  byDay,
  byGoal,
  byKind,
  byRound,
  countedAs,
  divisionWords,
  goalsOf,
  isNarrowable,
  narrowedIn,
  narrowedText,
  traitWords,
  type CountedOn,
  type Divided,
  type Division,
  type SegmentCounts,
} from '@/core/experiment'
import type { Segment } from '@/core/decide'
import type { GoalId, VersionId } from '@/core/ids'
import { SEGMENT, traits } from '@/core/ledger'
import { letterCounts, lettersOfRound } from '../stores/letters'
import { rowsAmong, rowsOfRounds, segmentsOf } from '../stores/results'
import { segmentsNow } from '../stores/segments'
import { roundsOf, testNumber, type RoundRow } from '../stores/tests'
import { namesFor } from './test-facts'

type View = Output<'result.by'>

interface Asked {
  readonly crowd: number
  readonly goal: GoalId
  readonly by: Division
  readonly only: string
}

interface Hand {
  readonly round: RoundRow
  readonly crowd: number
  readonly goal: GoalId
  readonly versions: readonly VersionId[]
  readonly counts: readonly SegmentCounts[]
  readonly segments: readonly Segment[]
  /** Days of these rounds, of those alone whom it is narrowed to. */
  readonly rowsOf: (rounds: readonly RoundRow[]) => Promise<CountedOn[]>
}

interface Answer {
  readonly divided: Divided
  /** What each value is called. */
  readonly named: (value: string) => string
}

/** A round’s result for one goal, divided by one thing; of visitors of one kind alone where that is asked. */
export async function resultBy(db: Knex, round: RoundRow, { crowd, goal, by, only }: Asked): Promise<View> {
  const { snapshot, epochs } = round
  const versions = armsEver(epochs).map(({ version }) => version)
  const [counts, segments] = await Promise.all([segmentsOf(db, crowd, snapshot.id, goal), segmentsNow(db)])
  const narrowed = isNarrowable(by) ? narrowedIn(only) : null
  const meant = narrowed === null ? null : countedAs(narrowed, counts, segments)
  const rowsOf = async (rounds: readonly RoundRow[]) => {
    const ids = rounds.map(({ snapshot: { id } }) => id)
    if (narrowed !== null) return meant === null ? [] : rowsAmong(db, crowd, ids, meant)
    const found = await rowsOfRounds(db, crowd, ids)
    return [...found].flatMap(([of, rows]) => rows.map((row) => ({ ...row, round: of })))
  }
  const names = namesFor(snapshot.design, snapshot.versions, snapshot.goals)
  const { divided, named } = await waysFor(by)(db, { round, crowd, goal, versions, counts, segments, rowsOf })
  return {
    versions: versions.map((version) => ({ version, name: names.version(version) })),
    rows: divided.values.map(({ value, arms }) => ({ value, words: named(value), arms })),
    words: divisionWords(by, divided, names.version),
    only: isNarrowable(by) ? kindsIn(counts, segments) : [],
  }
}

type Way = (db: Knex, hand: Hand) => Promise<Answer>

const ofKind =
  (by: (typeof traits)[number] | typeof SEGMENT): Way =>
  async (_, { counts, versions, segments }) => ({
    divided: byKind(by, counts, versions, segments),
    named: (value) => (by === SEGMENT ? segmentWords(value, segments) : traitWords(by, value, regionName)),
  })

const waysFor = (by: Division): Way => ways[by]

/** How each division is read: one that is forgotten does not compile. */
const ways: { readonly [By in Division]: Way } = {
  device: ofKind('device'),
  source: ofKind('source'),
  region: ofKind('region'),
  language: ofKind('language'),
  returning: ofKind('returning'),
  segment: ofKind(SEGMENT),
  goal: async (_, { round, versions, rowsOf }) => {
    const { design, goals } = round.snapshot
    const names = namesFor(design, round.snapshot.versions, goals)
    return {
      divided: byGoal(await rowsOf([round]), goalsOf(design), versions),
      named: (goal) => `${names.goal(goal as GoalId)}${goal === design.primary ? ' (decides)' : ''}`,
    }
  },
  day: async (_, { round, goal, versions, rowsOf }) => ({
    divided: byDay(await rowsOf([round]), goal, versions),
    named: (day) => day,
  }),
  round: async (db, { round, goal, versions, rowsOf }) => {
    // What is shown by rule has rounds of its own, one for each rule as it was.
    const rounds = round.personalization === null ? await roundsOf(db, testNumber(round.snapshot.test)) : [round]
    const ids = rounds.map(({ snapshot: { id } }) => id)
    return {
      divided: byRound(await rowsOf(rounds), ids, goal, versions),
      named: (id) => {
        const found = rounds.find(({ snapshot }) => snapshot.id === id)
        return found === undefined ? id : `round ${found.snapshot.number}, from ${found.started_at.toISOString().slice(0, 10)}`
      },
    }
  },
  channel: async (db, hand) => channels(db, hand),
}

/** On pages, and in each newsletter that carried it. */
async function channels(db: Knex, { round, crowd, goal, versions, rowsOf }: Hand): Promise<Answer> {
  const onPages = byGoal(await rowsOf([round]), [goal], versions)
  const letters = crowd === 0 ? await lettersOfRound(db, round.snapshot.id) : []
  const counts = await letterCounts(
    db,
    letters.map(({ number }) => number),
  )
  const inLetters = letters.map(({ number, calls }) => {
    const carried = new Set(calls.flatMap(({ call, round: of }) => (of === round.snapshot.id ? [call as string] : [])))
    const own = counts.filter((row) => row.letter === number && carried.has(row.call_id))
    return own.map((row) => ({
      ...{ round: round.snapshot.id, goal, version: row.version as VersionId, day: '' },
      ...{ exposed: row.shown, converters: row.followed },
    }))
  })
  const ofLetters = inLetters.map((rows, at) => {
    const shown = rows.map((row) => ({ ...row, goal: '' }))
    const followed = rows.map((row) => ({ ...row, exposed: 0 }))
    const [value] = byGoal([...shown.map((row) => ({ ...row, converters: 0 })), ...followed], [goal], versions).values
    return value === undefined ? [] : [{ ...value, value: String(letters[at]?.number) }]
  })
  return {
    divided: { ...onPages, values: [...onPages.values.map((one) => ({ ...one, value: '' })), ...ofLetters.flat()] },
    named: (value) => {
      const letter = letters.find(({ number }) => String(number) === value)
      return letter === undefined ? 'on pages' : `newsletter “${letter.subject}”, ${letter.created_at.toISOString().slice(0, 10)}`
    },
  }
}

function segmentWords(value: string, segments: readonly Segment[]): string {
  const name = segments.find(({ id }) => id === value.replace(/^!/, ''))?.name ?? 'a segment that is gone'
  return value.startsWith('!') ? `all others than “${name}”` : `“${name}”`
}

/** Of each trait the kinds with most visitors, and segments: what an answer can be narrowed to. */
function kindsIn(counts: readonly SegmentCounts[], segments: readonly Segment[]): View['only'] {
  const ofTraits = traits.flatMap((trait) => {
    const values = [...new Set(counts.filter((one) => one.trait === trait).map(({ value }) => value))]
    return values.slice(0, MOST_KINDS).map((value) => ({
      ...{ only: narrowedText({ trait, value }), by: trait, words: traitWords(trait, value, regionName) },
    }))
  })
  const named = segments
    .slice(0, MOST_NAMED)
    .map(({ id, name }) => ({ only: narrowedText({ trait: SEGMENT, value: id }), by: SEGMENT, words: name }) as const)
  return [...ofTraits, ...named]
}
const MOST_KINDS = 12
const MOST_NAMED = 50
