/** How often somebody may do something: this many at once, and this many in a minute after that. */
export interface Rate {
  readonly burst: number
  readonly perMinute: number
}

const MOST_SUBJECTS = 100_000

/**
 * What each subject (an address, a visitor) may still do: a bucket of tokens that fills again at a steady rate. In the
 * memory of one process, for as many subjects as were here lately.
 */
export class Allowance {
  private readonly left = new Map<string, { tokens: number; at: number }>()

  constructor(private readonly rate: Rate) {}

  /** Takes one. @returns 0 where that was allowed, else after how many seconds it will be */
  take(subject: string, now: number): number {
    const { burst, perMinute } = this.rate
    const before = this.left.get(subject)
    const filled =
      before === undefined ? burst : Math.min(burst, before.tokens + (Math.max(0, now - before.at) * perMinute) / 60_000)
    // Put in last, so that whoever was not here for longest is the first to be forgotten.
    this.left.delete(subject)
    if (this.left.size >= MOST_SUBJECTS)
      for (const oldest of [...this.left.keys()].slice(0, MOST_SUBJECTS / 10)) this.left.delete(oldest)
    this.left.set(subject, { tokens: filled >= 1 ? filled - 1 : filled, at: now })
    return filled >= 1 ? 0 : Math.ceil(((1 - filled) * 60) / perMinute)
  }
}

/** Generous: no visitor and no office behind one address comes near them. */
export const rates = {
  collect: { visitor: { burst: 240, perMinute: 240 }, address: { burst: 6000, perMinute: 6000 } },
  form: { visitor: { burst: 12, perMinute: 6 }, address: { burst: 120, perMinute: 60 } },
  report: { visitor: { burst: 240, perMinute: 240 }, address: { burst: 6000, perMinute: 6000 } },
} satisfies Record<string, { readonly visitor: Rate; readonly address: Rate }>
export type Doing = keyof typeof rates

/** What visitors and addresses may still do. @returns seconds to wait, 0 for none */
export type Limits = (doing: Doing, who: { readonly visitor: string | null; readonly address: string }, now: number) => number

export const noLimits: Limits = () => 0

export function limitsOf(allowed: typeof rates = rates): Limits {
  const made = new Map(
    Object.entries(allowed).map(([doing, { visitor, address }]) => [
      doing,
      { visitor: new Allowance(visitor), address: new Allowance(address) },
    ]),
  )
  return (doing, { visitor, address }, now) => {
    const of = made.get(doing)
    if (of === undefined) return 0
    const wait = of.address.take(address, now)
    return wait > 0 || visitor === null ? wait : of.visitor.take(visitor, now)
  }
}
