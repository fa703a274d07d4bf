import type { BehaviourView, ResultView, TestView } from '@/contract/contract'
import { armName, goalsOf, levelsOf, partsOf, readingWords, speedWords } from '@/core/experiment'
import { limitWords, percent, points, pointsBetween, pValueWords } from '@/core/numbers'
import type { TestId } from '@/core/ids'
import type { Database } from '../database/connect'
import { roundsOf, testNumber } from '../stores/tests'
import { behaviourView } from './behaviour'
import { resultsOf } from './result-of'
import { openTest } from './test-sheet'

/** A test as something to read: what was asked, what was shown, what came of it, goal by goal, in Markdown (CommonMark). */
export async function testReport(db: Database, id: TestId): Promise<string> {
  const test = await openTest(db, id)
  const [round] = await roundsOf(db, testNumber(id))
  const reads = round === undefined ? [] : await resultsOf(db, round, 0, goalsOf(test.design))
  const results = reads.map(({ view }) => view)
  return reportText(test, results, round === undefined ? null : await behaviourView(db, round, 0))
}

/** @param results of its last round, the goal that decides first */
export function reportText(test: TestView, results: readonly ResultView[], behaviour: BehaviourView | null): string {
  const [first] = results
  const blocks = [
    `# ${plain(test.design.name)}`,
    `Test ${test.id} on “${plain(test.page.title)}” (${plain(test.page.path)}), ${test.status}.`,
    ...question(test),
    '## Versions',
    ...versions(test),
    ...(first === undefined ? ['## Result', 'Nothing has been counted yet.'] : ['## Result', plain(first.sentence)]),
    ...(first?.alarms ?? []).map(
      ({ words, look }) => `> ${plain(words)}\n>\n${look.map((one) => `> - ${plain(one)}`).join('\n')}`,
    ),
    ...(first?.slower ?? []).map(({ words }) => `> ${plain(words)}`),
    ...results.flatMap(resultBlocks),
    ...(first === undefined ? [] : [...partsSaid(first, test), ...besideSaid(first), ...steadiedSaid(first)]),
    ...(behaviour === null ? [] : did(behaviour)),
    ...written(test),
    ...decided(test),
    ...rounds(test),
  ]
  return `${blocks.join('\n\n')}\n`
}

/** Words that somebody wrote, as they are read: nothing in them is markup. */
const plain = (words: string) => words.replace(/\s+/g, ' ').replace(/[\\`*_{}[\]<>|#~]/g, '\\$&')

function question({ design }: TestView): string[] {
  const asked = [
    ['Problem', design.problem],
    ['Change', design.change],
    ['Expected', design.expected],
  ].filter(([, words]) => words !== '')
  return asked.length === 0
    ? []
    : ['## Question', asked.map(([name = '', words = '']) => `- ${name}: ${plain(words)}`).join('\n')]
}

function versions({ design, versions: all }: TestView): string[] {
  return design.arms.map((arm) => {
    const levels = levelsOf(design, arm.version)
    const changes = partsOf(design).flatMap((_, part) => all.find(({ id }) => id === levels[part])?.words ?? [])
    const name = plain(armName(design, all, arm.version))
    const words = changes.length === 0 ? ['as published'] : changes.map(plain)
    return `### ${name}, ${percent(arm.weight / 10_000)} of those who take part\n\n${words.map((one) => `- ${one}`).join('\n')}`
  })
}

const table = (heads: readonly string[], rows: readonly (readonly string[])[]) =>
  [heads, heads.map(() => '---'), ...rows].map((cells) => `| ${cells.join(' | ')} |`).join('\n')

function resultBlocks({ goal, rates, variants, guards, roundNumber, days }: ResultView): string[] {
  const lines = rates.map(({ version, name, exposed, converters, rate, interval }) => {
    const variant = variants.find((one) => one.version === version)
    const lift = variant?.liftInterval
    return [
      plain(name),
      String(exposed),
      String(converters),
      rate === null ? '–' : percent(rate),
      interval === null ? '–' : `${percent(interval[0])} to ${percent(interval[1])}`,
      lift == null ? '–' : `${limitWords(lift[0])} to ${limitWords(lift[1])}`,
      variant?.pValue == null ? '–' : pValueWords(variant.pValue),
      variant === undefined ? '–' : readingWords[variant.reading],
    ]
  })
  const heads = ['Version', 'Saw it', 'Reached it', 'Rate', '95% (Wilson)', 'Lift, at any look', 'p, at any look', 'Reading']
  const about = `${goal.primary ? 'It decides. ' : ''}Round ${roundNumber}, ${Math.round(days)} days.`
  const guarded = guards.flatMap(({ name, margin, variants: of }) =>
    of.map(({ reading }) => `- “${plain(name)}” must not get worse by more than ${percent(margin)}: ${reading}`),
  )
  return [`### ${plain(goal.name)}`, about, table(heads, lines), ...(guarded.length === 0 ? [] : [guarded.join('\n')])]
}

/** Of a test of combinations, which part does what. */
function partsSaid({ parts }: ResultView, { parts: tested }: TestView): string[] {
  if (parts === null) return []
  const rows = parts.levels.map(({ part, name, difference, interval }) => [
    plain(tested[part]?.words ?? ''),
    plain(name),
    difference === null ? '–' : points(difference),
    interval === null ? 'too early' : pointsBetween(interval),
  ])
  const together = parts.pairs.filter(({ beyondChance }) => beyondChance)
  return [
    '## Which part does what',
    table(['Part', 'Version', 'Adds to the rate', 'At any look'], rows),
    ...together.map(
      ({ names: [one, other], interval }) => `- ${plain(one)} and ${plain(other)} together: ${pointsBetween(interval)}`,
    ),
  ]
}

function besideSaid({ beside }: ResultView): string[] {
  return beside.length === 0 ? [] : ['## Tests that ran beside it', beside.map(({ words }) => `- ${plain(words)}`).join('\n')]
}

function steadiedSaid({ steadied, variants }: ResultView): string[] {
  if (steadied === null) return []
  const lines = steadied.variants.map(({ version, liftInterval }) => {
    const name = plain(variants.find((one) => one.version === version)?.name ?? '')
    return `- ${name}: ${liftInterval === null ? 'too early' : `${limitWords(liftInterval[0])} to ${limitWords(liftInterval[1])}`}`
  })
  return ['## With what visitors had done before taken out', plain(steadied.words), lines.join('\n')]
}

/** What was written down while it ran. */
function written({ notes, tags }: TestView): string[] {
  const lines = notes.map(({ at, by, words }) => `- ${at.slice(0, 10)}, ${plain(by)}: ${plain(words)}`)
  return [
    ...(lines.length === 0 ? [] : ['## Notes', lines.join('\n')]),
    ...(tags.length === 0 ? [] : [`Tags: ${tags.map(plain).join(', ')}`]),
  ]
}

function did({ versions: of, next, pressed }: BehaviourView): string[] {
  if (of.every(({ visits, speed }) => visits === 0 && speed.paint.measured === 0)) return []
  const rows = of.map(({ name, bounced, speed }) => [
    plain(name),
    bounced === null ? '–' : percent(bounced.share),
    speed.paint.slowest === null ? '–' : speedWords('paint', speed.paint.slowest.value),
    speed.response.slowest === null ? '–' : speedWords('response', speed.response.slowest.value),
  ])
  const most = (what: string, lines: readonly { words: string; visitors: readonly number[] }[]) =>
    lines.length === 0
      ? []
      : [
          table(
            [what, ...of.map(({ name }) => plain(name))],
            lines.map(({ words, visitors }) => [plain(words), ...visitors.map(String)]),
          ),
        ]
  return [
    '## What visitors did',
    table(['Version', 'Left at once', 'Painted within, for three in four', 'Answers a press within'], rows),
    ...most(
      'Went on to',
      next.map(({ title: words, visitors }) => ({ words, visitors })),
    ),
    ...most('Pressed', pressed),
  ]
}

function decided({ decision }: TestView): string[] {
  if (decision === null) return []
  const { versionName, reason, lesson, at, by, sentence } = decision
  return [
    '## Decision',
    `${plain(versionName)}, by ${plain(by)} on ${at.slice(0, 10)}. What was said then: ${plain(sentence)}`,
    ...(reason === '' ? [] : [`Reason: ${plain(reason)}`]),
    ...(lesson === '' ? [] : [`Lesson: ${plain(lesson)}`]),
  ]
}

function rounds({ rounds: all }: TestView): string[] {
  if (all.length === 0) return []
  const lines = all.map(({ number, startedAt, endedAt, because }) => {
    const until = endedAt === null ? 'going on' : `to ${endedAt.slice(0, 10)}`
    return `- Round ${number}, from ${startedAt.slice(0, 10)}, ${until}${because === '' ? '' : `: opened because ${plain(because)}`}`
  })
  return ['## Rounds', lines.join('\n')]
}
