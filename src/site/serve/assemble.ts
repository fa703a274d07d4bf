import { heldOutOf, UNCOUNTED, type Chunk } from '../compile/chunk'
import { coded, codedFromParts, codingFor, takesGzip, type Coding } from './coding'
import type { Shown } from './hands'
import { HTML, sentAs, type Sent } from './sent'
import { packed } from './slab'
import { StitchedGzip } from './stitched-gzip'
import { UntilFull } from './until-full'

/** A stretch of a page, with what is decided and what it can be as numbers. */
type Stretch = Buffer | { readonly key: number; readonly by: readonly (readonly Stretch[])[] }

/** A page that can be this many is put into codings as a whole, each of them once, which makes it smallest. */
const FEW = 64
/** Bytes of pages that are kept put together. */
const room = new UntilFull(64 * 1_048_576)

/** One page put together, in each coding in which it was sent. */
type Forms = { [By in Coding | 'plain']?: Sent }

/** The ways in which one page can be put together. */
export class Assembly {
  private readonly keys: string[] = []
  /** By key, every version that it can be. */
  private readonly versions: string[][] = []
  /** By key, how much further apart its versions are counted than those of the keys before. */
  private readonly weights: readonly number[]
  private readonly stretches: readonly Stretch[]
  /** Whether there are so few that each is worth a coding of its own. */
  readonly isOneOfFew: boolean
  /** Of more combinations than there are whole numbers, two might be taken for one. */
  private readonly tellsApart: boolean
  private readonly plain = new Map<number, Buffer>()
  private readonly zipped = new Map<number, Buffer>()
  private readonly gzip = new StitchedGzip()
  private readonly forms = new Map<number, Forms>()
  /** The same by what was decided, which is one object for many visitors. */
  private formsOf = new WeakMap<readonly Shown[], Forms>()

  constructor(chunks: readonly Chunk[]) {
    this.find(chunks)
    this.stretches = this.numbered(chunks)
    let combinations = 1
    this.weights = this.versions.map(({ length }) => {
      const weight = combinations
      combinations *= length
      return weight
    })
    this.isOneOfFew = combinations <= FEW
    this.tellsApart = combinations <= Number.MAX_SAFE_INTEGER
  }

  /** The page as it was decided. */
  whole(decisions: readonly Shown[]): Buffer {
    return this.keptIn(this.plain, decisions, packed)
  }

  /** The same in gzip, from parts that were put into it before. */
  inGzip(decisions: readonly Shown[]): Buffer {
    return this.keptIn(this.zipped, decisions, (parts) => this.gzip.join(parts))
  }

  /**
   * The page as it was decided, with all that is said of it, as small as whoever asks can take it: one of few in the best
   * coding, one of many in gzip from its parts.
   *
   * @param accepts the header `accept-encoding`
   * @param etag of a page on which nothing is decided; `null` of any other
   */
  sent(decisions: readonly Shown[], accepts: string | undefined, etag: string | null): Sent {
    const coding = this.isOneOfFew ? codingFor(accepts) : takesGzip(accepts) ? 'gzip' : null
    const forms = this.formsFor(decisions)
    const before = forms[coding ?? 'plain']
    if (before !== undefined) return before
    const sent = sentAs(
      this.isOneOfFew
        ? coded(this.whole(decisions), HTML, accepts, etag)
        : codedFromParts({ plain: () => this.whole(decisions), inGzip: () => this.inGzip(decisions) }, accepts),
    )
    forms[coding ?? 'plain'] = sent
    return sent
  }

  private formsFor(decisions: readonly Shown[]): Forms {
    const before = this.formsOf.get(decisions)
    if (before !== undefined) return before
    if (!this.tellsApart) return {}
    const number = this.numberOf(decisions)
    const forms = this.forms.get(number) ?? {}
    this.forms.set(number, forms)
    this.formsOf.set(decisions, forms)
    return forms
  }

  private keptIn(pages: Map<number, Buffer>, decisions: readonly Shown[], join: (parts: Buffer[]) => Buffer): Buffer {
    const number = this.numberOf(decisions)
    const before = this.tellsApart ? pages.get(number) : undefined
    if (before !== undefined) return before
    const parts: Buffer[] = []
    collect(this.stretches, this.choice(decisions), parts)
    const page = join(parts)
    if (!this.tellsApart) return page
    const own = Buffer.from(page)
    pages.set(number, own)
    room.add(own.length, this.letGo)
    return own
  }

  private readonly letGo = (): void => {
    this.plain.clear()
    this.zipped.clear()
    this.forms.clear()
    this.formsOf = new WeakMap()
  }

  private find(chunks: readonly Chunk[]): void {
    for (const chunk of chunks) {
      if (Buffer.isBuffer(chunk)) continue
      if (!this.keys.includes(chunk.key)) {
        this.keys.push(chunk.key)
        this.versions.push([UNCOUNTED])
      }
      const versions = this.versions[this.keys.indexOf(chunk.key)]
      for (const [version, inner] of chunk.alternatives) {
        if (versions?.includes(version) === false) versions.push(version)
        this.find(inner)
      }
    }
  }

  private numbered(chunks: readonly Chunk[]): Stretch[] {
    return chunks.map((chunk) => {
      if (Buffer.isBuffer(chunk)) return chunk
      const key = this.keys.indexOf(chunk.key)
      const { alternatives } = chunk
      const by = (this.versions[key] ?? []).map((version) =>
        this.numbered(alternatives.get(version) ?? alternatives.get(UNCOUNTED) ?? []),
      )
      return { key, by }
    })
  }

  /** By key, which of its versions; the first, of those who are not counted, where nothing else is said. */
  private choice(decisions: readonly Shown[]): number[] {
    return this.keys.map((key, at) => {
      const decision = decisions.find((one) => one.key === key)
      return decision?.counted ? this.versionOf(at, decision) : 0
    })
  }

  /** Of what was chosen: another one for whatever differs. */
  private numberOf(decisions: readonly Shown[]): number {
    let number = 0
    for (const decision of decisions) {
      if (!decision.counted) continue
      const at = this.keys.indexOf(decision.key)
      if (at >= 0) number += this.versionOf(at, decision) * (this.weights[at] ?? 0)
    }
    return number
  }

  private versionOf(at: number, { version, reason }: Shown): number {
    const name = reason.code === 'heldOut' ? heldOutOf(reason.rule ?? 0) : version
    return Math.max(0, this.versions[at]?.indexOf(name) ?? 0)
  }
}

function collect(stretches: readonly Stretch[], choice: readonly number[], into: Buffer[]): void {
  for (const stretch of stretches)
    if (Buffer.isBuffer(stretch)) into.push(stretch)
    else collect(stretch.by[choice[stretch.key] ?? 0] ?? [], choice, into)
}

const assemblies = new WeakMap<readonly Chunk[], Assembly>()

/** How a page is put together, worked out once. */
export function assemblyOf(chunks: readonly Chunk[]): Assembly {
  const before = assemblies.get(chunks)
  if (before !== undefined) return before
  const made = new Assembly(chunks)
  assemblies.set(chunks, made)
  return made
}
