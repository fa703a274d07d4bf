import {
  armFor,
  isByKept,
  isHeldAt,
  keptArm,
  keptAsOf,
  ORIGINAL,
  ruleAt,
  rungFor,
  type Decision,
  type Draw,
  type Reason,
  type Unit,
  type Visitor,
} from '@/core/decide'
import { BY_RULE } from '@/core/experiment'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import type { CompiledPage } from '../compile/compile'
import { UntilFull } from './until-full'

/** A version that somebody is given by chance or by rule, as it is written down. */
export interface Given {
  readonly round: RoundId
  readonly version: VersionId
  /** Of this version in this round. */
  readonly number: number
  /** The test that gives it; `null` where a rule does. */
  readonly draw: Draw | null
}

/** What is decided as far as showing goes: whoever only shows it need not know of every reason. */
export type Shown = Pick<Decision, 'key' | 'version' | 'counted'> & {
  readonly reason: { readonly code: Reason['code']; readonly rule?: number }
}

/** What a page gives to one kind of visitor: the same object to all of whom the same was decided. */
export interface Hand {
  readonly decisions: readonly Shown[]
  /** Of the tests, then of the rules. */
  readonly given: readonly Given[]
  /** Of it, what lasts longer than a view. */
  readonly lasting: readonly Given[]
  /** Of all that is given, as one. */
  readonly number: number
}

const NOT_SHOWN: Shown['reason'] = { code: 'noRuleMatched' }
const SHOWN: Shown['reason'] = { code: 'kept' }
const NONE: ReadonlySet<TestId> = new Set()
/** Decisions in hands that are kept, of all pages: as many as fit in some tens of megabytes. */
const room = new UntilFull(200_000)

/**
 * The hands of one page. What is decided of a visitor is where they stand on each ladder and the arm that they have of each
 * test; that is one number, and most visitors have one that others had before.
 */
export class Hands {
  /** By ladder and by draw, how many there are to tell apart, with that of whoever is given nothing. */
  private readonly rungs: readonly number[]
  private readonly arms: readonly number[]
  private readonly ofDraws: number
  /** Of more hands than there are whole numbers, two might be taken for one. */
  private readonly tellsApart: boolean
  private readonly known = new Map<number, Hand>()
  private readonly byKept: WeakMap<Visitor['kept'], number> | null

  constructor(private readonly page: CompiledPage) {
    const product = (counts: readonly number[]) => counts.reduce((all, count) => all * count, 1)
    this.rungs = page.ladders.map(({ rules }) => 2 * rules.length + 1)
    this.arms = page.draws.map(({ arms }) => arms.length + 1)
    this.ofDraws = product(this.arms)
    this.tellsApart = product(this.rungs) * this.ofDraws <= Number.MAX_SAFE_INTEGER
    this.byKept = this.tellsApart && page.draws.every(isByKept) ? new WeakMap() : null
  }

  /** @param carried tests of which a newsletter brought the version here: it is shown and counts for nothing */
  of(visitor: Visitor, unit: Unit | null, carried: ReadonlySet<TestId> = NONE): Hand {
    if (!this.tellsApart || carried.size > 0) return this.made(...this.places(visitor, unit), carried)
    let ladders = 0
    for (let at = 0; at < this.rungs.length; at++) {
      const ladder = this.page.ladders[at]
      if (ladder !== undefined) ladders = ladders * (this.rungs[at] ?? 1) + 1 + Math.max(-1, rungFor(ladder, visitor, unit))
    }
    const number = ladders * this.ofDraws + this.drawn(visitor, unit)
    const before = this.known.get(number)
    if (before !== undefined) return before
    const hand = this.made(...this.places(visitor, unit), NONE)
    this.known.set(number, hand)
    room.add(1 + hand.decisions.length, this.letGo)
    return hand
  }

  private readonly letGo = (): void => this.known.clear()

  /** Whether a browser is known to keep all that this page gives it. */
  areKept({ kept }: Visitor): boolean {
    return this.byKept?.has(kept) === true
  }

  private drawn(visitor: Visitor, unit: Unit | null): number {
    const isKnown = this.byKept !== null && visitor.leftOut === null && unit !== null && visitor.kept.size > 0
    const before = isKnown ? this.byKept.get(visitor.kept) : undefined
    if (before !== undefined) return before
    let [number, areKept] = [0, isKnown]
    for (let at = 0; at < this.arms.length; at++) {
      const draw = this.page.draws[at]
      if (draw === undefined) continue
      number = number * (this.arms[at] ?? 1) + 1 + Math.max(-1, armFor(draw, visitor, unit))
      areKept &&= keptArm(draw, visitor) >= 0
    }
    if (areKept) this.byKept?.set(visitor.kept, number)
    return number
  }

  private places(visitor: Visitor, unit: Unit | null) {
    const { ladders, draws } = this.page
    return [ladders.map((one) => rungFor(one, visitor, unit)), draws.map((one) => armFor(one, visitor, unit))] as const
  }

  private made(rungs: readonly number[], arms: readonly number[], carried: ReadonlySet<TestId>): Hand {
    const { ladders, draws } = this.page
    const climbed = ladders.map(({ id, rules }, at): Shown => {
      const rung = rungs[at] ?? -1
      const [found, rule] = [rules[ruleAt(rung)], ruleAt(rung)]
      if (rung < 0 || found === undefined) return { key: id, version: ORIGINAL, counted: false, reason: NOT_SHOWN }
      if (isHeldAt(rung)) return { key: id, version: ORIGINAL, counted: true, reason: { code: 'heldOut', rule } }
      return { key: id, version: found.version, counted: true, reason: { code: 'ruleMatched', rule } }
    })
    const drawn = draws.map((draw, at): Shown => {
      const arm = draw.arms[arms[at] ?? -1]
      if (arm === undefined) return { key: draw.test, version: ORIGINAL, counted: false, reason: NOT_SHOWN }
      return { key: draw.test, version: arm.version, counted: true, reason: SHOWN }
    })
    const byChance = draws.flatMap((draw, at): Given[] => {
      const place = arms[at] ?? -1
      const arm = draw.arms[place]
      if (arm === undefined || carried.has(keptAsOf(draw))) return []
      return [{ round: draw.round, version: arm.version, number: ((this.page.roundNumbers[at] ?? 0) + place) >>> 0, draw }]
    })
    const given = [...byChance, ...rungs.flatMap((rung, at) => this.byRule(at, rung))]
    return {
      decisions: [...climbed, ...drawn],
      given,
      lasting: byChance.filter(({ draw }) => draw?.keeping !== 'view'),
      number: given.reduce((number, one) => Math.imul(number ^ one.number, 0x9e3779b1), 0) >>> 0,
    }
  }

  /** What a rule that is counted gives: itself, and where there is more than one all of them together. */
  private byRule(ladder: number, rung: number): Given[] {
    const { gains, ladders } = this.page
    const [gain, rule] = [gains[ladder] ?? null, gains[ladder]?.rules[ruleAt(rung)]]
    if (gain === null || rung < 0 || rule === undefined) return []
    const isHeld = isHeldAt(rung)
    const given = (round: RoundId, number: number, version: VersionId): Given => ({
      round,
      version,
      number: (number + (isHeld ? 0 : 1)) >>> 0,
      draw: null,
    })
    const own = isHeld ? ORIGINAL : (ladders[ladder]?.rules[ruleAt(rung)]?.version ?? ORIGINAL)
    const { together } = gain
    return [
      given(rule.round, rule.number, own),
      ...(together === null ? [] : [given(together.round, together.number, isHeld ? ORIGINAL : BY_RULE)]),
    ]
  }
}

const hands = new WeakMap<CompiledPage, Hands>()

/** What a page can give, worked out once for each. */
export function handsOf(page: CompiledPage): Hands {
  const before = hands.get(page)
  if (before !== undefined) return before
  const made = new Hands(page)
  hands.set(page, made)
  return made
}
