import * as z from 'zod'
import {
  conditionSchema,
  fitting,
  numberOfHoldout,
  ORIGINAL,
  resolved,
  segmentsIn,
  WHOLE,
  type Condition,
  type Ladder,
  type Segment,
} from '../decide'
import type { Goal } from '../goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, type RoundId, type SegmentId, type VersionId } from '../ids'
import { isSameData } from '../same-data'
import { designSchema, versionSchema, type Round } from './design'

/** More nobody reads from top to bottom. */
const MOST_RULES = 50
/** Beyond half, the rule would be the exception. */
const MOST_HELD = 5000

/** How it is found out what showing by rule gains: whom to hold out, and the goals to go by. */
export const gainPlanSchema = z.object({
  /** Basis points of those who match that are shown the original all the same. */
  holdout: z.number().int().min(0).max(MOST_HELD),
  primary: goalIdSchema.nullable(),
  watched: z.array(goalIdSchema).max(20),
  /** The smallest relative gain worth having: 0.05 is 5%. */
  smallestEffect: z.number().min(0.001).max(2),
})
export type GainPlan = Readonly<z.infer<typeof gainPlanSchema>>

/** Before anybody says otherwise, from the first publish on. */
export const USUAL_PLAN: GainPlan = { holdout: 1000, primary: null, watched: [], smallestEffect: 0.25 }

const ruleSchema = z.object({
  version: versionSchema,
  condition: conditionSchema,
  /** In which what it gains is counted; `null` where nobody is held out. */
  round: roundIdSchema.nullable().default(null),
})

/** A part with versions by rule, as published: the first rule that matches wins, the original comes last. */
export const personalizationSchema = z.object({
  id: z.string().min(1).max(90),
  document: documentIdSchema,
  node: nodeIdSchema,
  rules: z.array(ruleSchema).max(MOST_RULES),
  holdout: z.number().int().min(0).max(WHOLE),
  /** How often it was drawn anew whom it holds out. */
  drawn: z.number().int().min(0).default(0),
  /** In which all rules together are counted; `null` where one is all. */
  round: roundIdSchema.nullable().default(null),
  primary: goalIdSchema.nullable().default(null),
  watched: z.array(goalIdSchema).default([]),
})
export type Personalization = Readonly<z.infer<typeof personalizationSchema>>
export type PublishedRule = Personalization['rules'][number]

/** What is shown by all rules of a part together, as one version beside the original. */
export const BY_RULE = 'by-rule' as VersionId

/** Rules as far as deciding goes, with what the segments that they name ask. */
export function ladderOf({ id, rules, holdout, drawn }: Personalization, segments: readonly Segment[]): Ladder {
  return {
    id,
    holdout,
    held: numberOfHoldout(id, drawn),
    rules: rules.map(({ version, condition }) => ({ version: version.id, fits: fitting(resolved(condition, segments)) })),
  }
}

/** What is about to go live. */
export interface Publishing {
  readonly id: string
  readonly document: Personalization['document']
  readonly node: Personalization['node']
  readonly rules: readonly Pick<PublishedRule, 'version' | 'condition'>[]
  readonly plan: Pick<GainPlan, 'holdout' | 'primary' | 'watched'>
}

export interface Renewed {
  readonly personalization: Personalization
  /** Rounds that begin with it: of the rule at this place, or of all together. */
  readonly opens: readonly { readonly round: RoundId; readonly rule: number | null }[]
  readonly closes: readonly RoundId[]
}

/**
 * What goes live, and which counts go on. A rule goes on being counted where it, whom it gets, and whom it holds out are
 * as they were; else it begins with empty counts. Whoever is held out is held out of all rules of the part, so that what
 * a visitor saw by another rule is alike on both sides.
 *
 * @param held whom it held out when that was last counted
 * @param changed segments that now ask something else
 */
export function renewed(
  before: Personalization | null,
  { plan, rules, ...place }: Publishing,
  newRound: () => RoundId,
  {
    held = null,
    changed = new Set(),
  }: {
    readonly held?: Pick<Personalization, 'holdout' | 'drawn'> | null
    readonly changed?: ReadonlySet<SegmentId>
  } = {},
): Renewed {
  const measures = plan.holdout > 0 && plan.primary !== null
  const holdout = measures ? plan.holdout : 0
  const goals = { primary: plan.primary, watched: [...plan.watched] }
  const sameGoals = before !== null && isSameData({ primary: before.primary, watched: before.watched }, goals)
  // Who was held out in other proportions would come into the next counts in them.
  const drawn = (held?.drawn ?? 0) + (held !== null && measures && held.holdout !== holdout ? 1 : 0)
  const opens: { round: RoundId; rule: number | null }[] = []
  const open = (rule: number | null) => {
    const round = newRound()
    opens.push({ round, rule })
    return round
  }
  const goesOn = measures && before?.holdout === holdout && sameGoals ? before : null
  const next = rules.map(({ version, condition }, rule): PublishedRule => {
    const known = goesOn === null ? null : roundGoingOn(goesOn, rules, rule, changed)
    return { version, condition, round: measures ? (known ?? open(rule)) : null }
  })
  const sameRules = opens.length === 0 && next.length === before?.rules.length
  const round = !measures || next.length < 2 ? null : sameRules && before.round !== null ? before.round : open(null)
  const goingOn = new Set([...next.map((rule) => rule.round), round])
  return {
    personalization: { ...place, rules: next, holdout, drawn, round, ...goals },
    opens,
    closes: before === null ? [] : roundsIn(before).filter((id) => !goingOn.has(id)),
  }
}

/** Whether publishing would change nothing: neither what is shown to whom, nor how its gain is measured. */
export function isAsPublished(live: Personalization, { rules, plan }: Pick<Publishing, 'rules' | 'plan'>): boolean {
  const plain = (of: Publishing['rules']) => of.map(({ version: { id, edits }, condition }) => ({ id, edits, condition }))
  const holdout = plan.primary === null ? 0 : plan.holdout
  return (
    isSameData(plain(live.rules), plain(rules)) &&
    live.holdout === holdout &&
    (holdout === 0 || isSameData([live.primary, live.watched], [plan.primary, plan.watched]))
  )
}

/** Every round in which it is counted now. */
export function roundsIn({ rules, round }: Personalization): RoundId[] {
  return [...rules.map((rule) => rule.round), round].filter((id) => id !== null)
}

/** That of the rule at this place: where it gets the same visitors as before, and shows them the same. */
function roundGoingOn(
  before: Personalization,
  rules: Publishing['rules'],
  place: number,
  changed: ReadonlySet<SegmentId>,
): RoundId | null {
  const known = before.rules[place]
  const rule = rules[place]
  if (known === undefined || rule === undefined || known.version.id !== rule.version.id) return null
  if (!isSameData(known.version.edits, rule.version.edits)) return null
  // Whom the rules above it take, it does not get.
  const asks = (of: Publishing['rules']): Condition[] => of.slice(0, place + 1).map(({ condition }) => condition)
  const isSame = isSameData(asks(before.rules), asks(rules))
  return isSame && !asks(rules).some((condition) => segmentsIn(condition).some((id) => changed.has(id))) ? known.round : null
}

/** A round of a rule, or of all together: the original, shown to those who are held out, against what the rule shows. */
export function gainRound(
  { id, rule, number }: { readonly id: RoundId; readonly rule: number | null; readonly number: number },
  of: Personalization,
  {
    goals,
    plannedTotal,
    smallestEffect,
  }: { readonly goals: readonly Goal[]; readonly plannedTotal: number; readonly smallestEffect: number },
): Round {
  const shown = (rule === null ? undefined : of.rules[rule]?.version) ?? { id: BY_RULE, name: 'All rules together', edits: [] }
  return {
    ...{ id, number, goals: [...goals], plannedTotal },
    // No test has it: nobody is drawn by it but by the part’s own number.
    test: 'by-rule' as Round['test'],
    design: designSchema.parse({
      ...{ name: shown.name, problem: '', change: '', expected: '' },
      ...{ document: of.document, node: of.node },
      arms: [
        { version: ORIGINAL, weight: of.holdout },
        { version: shown.id, weight: WHOLE - of.holdout },
      ],
      ...{ share: WHOLE, primary: of.primary, watched: of.watched, smallestEffect },
    }),
    versions: [shown],
    ...{ salt: of.id, lots: null, drawnAgain: of.drawn, generation: 0, pages: [], segments: [], because: '' },
  }
}
