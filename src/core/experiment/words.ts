import { count, percent, signed } from '../numbers'
import { ORIGINAL } from '../decide'
import type { GoalId, VersionId } from '../ids'
import type { Interval } from '../stats'
import { leader, readings, type Reading, type Result, type VariantResult } from './reading'
import type { Check, Finding } from './readiness'

/** The names that sentences need. */
export interface Names {
  version(id: VersionId): string
  goal(id: GoalId): string
  page(id: string): string
}

export const readingWords: { readonly [Of in Reading]: string } = {
  notToBeTrusted: 'not to be trusted',
  tooEarly: 'too early',
  better: 'better',
  worse: 'worse',
  noDifference: 'no difference worth having',
}

export function between([lower, upper]: Interval): string {
  return `between ${signed(lower)} and ${signed(upper)}`
}

/**
 * The result in a sentence or two: what to believe, and what to do.
 *
 * @param going whether visitors are still being counted: what no longer is cannot be waited for
 */
export function sentence(result: Result, goal: string, names: Names, going: boolean): string {
  const [first] = result.variants
  if (first === undefined) return 'There is no variant to compare with the original.'
  if (!result.split.trusted) {
    return 'These counts are not to be trusted: visitors are split otherwise than planned. Look for a variant that fails to load, a redirect that loses visitors, or one kind of visitor that is counted in one version only.'
  }
  const lead = leader(result) ?? first
  const others = result.variants.filter((variant) => variant !== lead)
  const rest = readings
    .map((reading) => [reading, others.filter((variant) => variant.reading === reading)] as const)
    .filter(([, variants]) => variants.length > 0)
    .map(([reading, variants]) => besideSentence(variants, reading, names, going))
  return [variantSentence(lead, result, goal, names, going), ...rest].join(' ')
}

/** What to say of a guard in the sentence of the result: only where it is broken. */
export function guardSentence(goal: string, margin: number, broken: readonly VersionId[], names: Names): string {
  if (broken.length === 0) return ''
  const who = broken.map((version) => `‘${names.version(version)}’`).join(' and ')
  return `But with ${who} “${goal}” got worse by more than ${percent(margin)}: do not take ${broken.length === 1 ? 'it' : 'them'} over for this alone.`
}

/** “‘A’ is worse.”, “‘A’ and ‘B’ are worse.”, and of many no more than their number. */
function besideSentence(variants: readonly VariantResult[], reading: Reading, names: Names, going: boolean): string {
  const [first, second, ...more] = variants.map(({ version }) => `‘${names.version(version)}’`)
  const words = reading === 'tooEarly' && !going ? 'cannot be judged' : besideWords[reading]
  if (second === undefined) return `${first ?? ''} ${words}.`
  const who = more.length === 0 ? `${first ?? ''} and ${second}` : `The other ${variants.length}`
  return `${who} ${words.replace(/^is /, 'are ').replace(/^makes /, 'make ')}.`
}

/** After the sentence about the first variant: how another one stands beside it. */
const besideWords: { readonly [Of in Reading]: string } = {
  notToBeTrusted: 'cannot be judged',
  tooEarly: 'is still too early to read',
  better: 'is better too',
  worse: 'is worse',
  noDifference: 'makes no difference worth having',
}

export function variantSentence(variant: VariantResult, result: Result, goal: string, names: Names, going: boolean): string {
  const name = `‘${names.version(variant.version)}’`
  const rateOf = (version: VersionId) => result.rates.find((rate) => rate.version === version)?.rate ?? null
  const [rate, original] = [rateOf(variant.version), rateOf(ORIGINAL)]
  const rates = rate === null || original === null ? '' : `${percent(rate)} reach “${goal}” instead of ${percent(original)}`
  const truth = variant.liftInterval === null ? '' : `; the true difference is ${between(variant.liftInterval)}`
  switch (variant.reading) {
    case 'better':
      return `${name} is better: ${rates}${truth.replace('difference', 'gain')}.${going ? ' Safe to stop.' : ''}`
    case 'worse':
      return `${name} is worse: ${rates}${truth}. Keep the original.`
    case 'noDifference':
      return `${name} makes no difference worth having: ${rates}${truth}. Keep whichever you like better.`
    case 'notToBeTrusted':
      return `${name} cannot be judged: the split is off.`
    case 'tooEarly':
      return going
        ? `It is still too early to judge ${name}${rates === '' ? '' : `: so far ${rates}`}${truth}. ${waitWords(variant)}`
        : `It ended too early to judge ${name}${rates === '' ? '' : `: ${rates}`}${truth}.`
    default:
      return variant.reading satisfies never
  }
}

function waitWords({ wait, daysMore }: VariantResult): string {
  const more =
    daysMore === null || daysMore === 0
      ? ''
      : ` At today’s traffic that is about ${count(daysMore)} more ${daysMore === 1 ? 'day' : 'days'} at the most.`
  switch (wait) {
    case 'fewExposed':
      return 'Wait for at least 100 visitors in each version.'
    case 'fewConverters':
      return 'Wait until at least 10 visitors of each version have reached the goal.'
    case 'lessThanADay':
      return 'Wait for a whole day at least.'
    default:
      return `Let it run.${more}`
  }
}

/** More days than anybody waits for an answer. */
export const MOST_DAYS = 180

export const checkWords: { readonly [Of in Check]: string } = {
  variants: 'Every variant differs from the original',
  part: 'The tested part is on a published page',
  route: 'Nobody is sent round in a circle',
  page: 'Every version shows the page where it was',
  links: 'Every link leads somewhere',
  goal: 'The goal can be reached from every version',
  split: 'Split and share add up',
  overlap: 'No other running test touches this part',
  script: 'No variant brings a script of its own',
  difference: 'Each variant differs in one kind of thing',
  destination: 'Variants lead to the same place as the original',
  question: 'The question is written down',
  time: 'An answer comes in reasonable time',
}

/** A step that settles a finding, by code; the subject is what it works on. */
export interface Settling {
  readonly label: string
  readonly step:
    | 'leaveOut'
    | 'allowScripts'
    | 'evenSplit'
    | 'wholeShare'
    | 'publishPage'
    | 'openGoal'
    | 'putMarker'
    | 'openPage'
    | 'pauseOther'
    | 'writeQuestion'
    | 'chooseGoal'
  readonly subject: string | null
}

export function findingWords(finding: Finding, names: Names): { words: string; settle: Settling | null } {
  switch (finding.code) {
    case 'noVariant':
      return {
        words: 'There is nothing to compare with the original yet. Make a variant on the page.',
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'variantSame':
      return {
        words: `‘${names.version(finding.version)}’ does not differ from the original. Change something in it, or leave it out.`,
        settle: { label: 'Leave it out', step: 'leaveOut', subject: finding.version },
      }
    case 'editUnfit':
      return {
        words: `‘${names.version(finding.version)}’ changes a component that is no longer on the published page. Open the page and take that edit back.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'partUnpublished':
      return finding.pagePublished
        ? {
            words: 'The tested part is in the draft but not on the published page. Publish the page first.',
            settle: { label: 'Publish the page', step: 'publishPage', subject: finding.document },
          }
        : {
            words: `“${names.page(finding.document)}” is not published, so nobody would see the test.`,
            settle: { label: 'Publish the page', step: 'publishPage', subject: finding.document },
          }
    case 'partNowhere':
      return {
        words: `“${names.page(finding.document)}” stands on no published page, so nobody would see the test. Put it on a page first.`,
        settle: { label: 'Open it', step: 'openPage', subject: null },
      }
    case 'routeGone':
      return {
        words: `‘${names.version(finding.version)}’ sends visitors to a page that is not published. Publish that page, or choose another.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'routeLoops':
      return {
        words: `‘${names.version(finding.version)}’ sends visitors to “${names.page(finding.document)}”, which sends them on again: they would go round in a circle. Choose a page that shows itself.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'scriptsOff':
      return {
        words: `‘${names.version(finding.version)}’ brings a script, and scripts are switched off for this site. An administrator can allow them, or the script can be taken back.`,
        settle: { label: 'Open the settings', step: 'allowScripts', subject: null },
      }
    case 'hasScript':
      return {
        words: `‘${names.version(finding.version)}’ runs a script of its own. Read it once more: it can do whatever the page can, and a slow one costs the variant visitors.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'addressChanged':
      return {
        words: `‘${names.version(finding.version)}’ changes the address of the page. A page has one address for all its visitors: take that edit back.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'notLooked':
      return { words: `The pages could not be looked at: ${finding.fault} Open the test again in a moment.`, settle: null }
    case 'pageBlank':
      return {
        words: `“${names.page(finding.document)}” shows nothing in ‘${names.version(finding.version)}’. Bring something back, or leave the variant out.`,
        settle:
          finding.version === ORIGINAL
            ? { label: 'Open the page', step: 'openPage', subject: null }
            : { label: 'Leave it out', step: 'leaveOut', subject: finding.version },
      }
    case 'linkDead':
      return {
        words: `In ‘${names.version(finding.version)}’ ${finding.words === '' ? 'a link without words' : `“${finding.words}”`} on “${names.page(finding.document)}” leads nowhere. Choose where it leads.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'leadsElsewhere':
      return {
        words: finding.alone
          ? `‘${names.version(finding.version)}’ leads to ${finding.address}, where the original does not. That is fine where it is what you want to compare.`
          : `‘${names.version(finding.version)}’ looks different and leads to another place too (${finding.address}): if it wins, nobody knows which of the two did it.`,
        settle: null,
      }
    case 'noGoal':
      return {
        words: 'Nothing says what counts as success. Choose a goal.',
        settle: { label: 'Choose a goal', step: 'chooseGoal', subject: null },
      }
    case 'goalUnpublished':
      return {
        words: `“${names.goal(finding.goal)}” counts on “${names.page(finding.document)}”, which is not published: it could never be reached.`,
        settle: { label: 'Publish that page', step: 'publishPage', subject: finding.document },
      }
    case 'goalGone':
      return {
        words: `“${names.goal(finding.goal)}” cannot be reached from ‘${names.version(finding.version)}’: its component is not there. Choose another goal, or bring the component back.`,
        settle: { label: 'Choose another goal', step: 'chooseGoal', subject: null },
      }
    case 'goalDead':
      return {
        words: `“${names.goal(finding.goal)}” cannot be reached from ‘${names.version(finding.version)}’: its component is there, but nothing of it can be ${finding.doing}.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'markerInVariantsOnly':
      return {
        words: `“${names.goal(finding.goal)}” counts presses on whatever carries the marker “${finding.marker}”, and only the original has nothing with it that can be pressed: it could not win. Give its component the marker.`,
        settle: { label: 'Open the page', step: 'openPage', subject: null },
      }
    case 'goalNowhere':
      return {
        words: `“${names.goal(finding.goal)}” is not wired to anything that is published: it could never be reached.`,
        settle: { label: 'Wire the goal', step: 'openGoal', subject: finding.goal },
      }
    case 'markerGone':
      return {
        words: `“${names.goal(finding.goal)}” counts presses on whatever carries the marker “${finding.marker}”, and nothing in ‘${names.version(finding.version)}’ that can be pressed carries it: the variant could not win. Give its component the marker.`,
        settle: { label: 'Put the marker on', step: 'putMarker', subject: `${finding.marker} ${finding.version}` },
      }
    case 'weightsOff':
      return {
        words: `The split adds up to ${percent(finding.total / 10_000)}, not to 100%.`,
        settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
      }
    case 'weightZero':
      return {
        words: `Nobody would see ‘${names.version(finding.version)}’: its part of the split is 0%.`,
        settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
      }
    case 'shareZero':
      return {
        words: 'The share of visitors who take part is 0%.',
        settle: { label: 'Let everybody take part', step: 'wholeShare', subject: null },
      }
    case 'testMeetsTest':
      return {
        words: `“${finding.name}” is already testing this part. Both at once could not be told apart.`,
        settle: { label: 'Open that test', step: 'pauseOther', subject: finding.test },
      }
    case 'severalKinds':
      return {
        words: `‘${names.version(finding.version)}’ differs in ${finding.kinds} kinds of things: if it wins, nobody knows which of them did it.`,
        settle: null,
      }
    case 'noQuestion':
      return {
        words: 'The question is not written down. Whoever reads the result later will want to know what was asked.',
        settle: { label: 'Write it', step: 'writeQuestion', subject: null },
      }
    case 'takesLong':
      return {
        words:
          finding.days === null
            ? 'This page has no visitors yet, so no answer would come.'
            : finding.days > MOST_DAYS
              ? 'There are too few visitors here to decide this. A larger difference worth having, fewer variants, or a goal nearer to the part would help.'
              : `With the visitors of the last 28 days an answer takes about ${count(finding.days)} days. A larger difference worth having, or fewer variants, would be quicker.`,
        settle: null,
      }
    default:
      return finding satisfies never
  }
}
