import type { Condition } from '../decide'
import type { DocumentId, TestId, VersionId } from '../ids'

/** Something that leads on, as it is shown. */
export interface ShownLink {
  readonly address: string
  readonly words: string
  /** Whether anything answers there; of other sites nobody knows, and it is taken to. */
  readonly answers: boolean
}

/** One page as the visitors of one version get it, read from what is sent to them. */
export interface ShownPage {
  readonly page: DocumentId
  readonly version: VersionId
  /** Nothing can be read or looked at in its main part. */
  readonly blank: boolean
  /** Components, by id: of which something can be seen, pressed, sent. */
  readonly seen: ReadonlySet<string>
  readonly pressed: ReadonlySet<string>
  readonly sent: ReadonlySet<string>
  /** Every component that has a place on the page, whether it shows anything or not. */
  readonly placed: ReadonlySet<string>
  /** Markers of what can be pressed. */
  readonly markers: ReadonlySet<string>
  readonly links: readonly ShownLink[]
}

export interface SameByRule {
  readonly version: VersionId
  /** The rule’s own version, by its name. */
  readonly rule: string
  /** Whom the rule is for. */
  readonly condition: Condition
}

/** The pages on which a test shows, or that it counts on, in each of its versions. */
export interface Shown {
  readonly pages: readonly ShownPage[]
  /** Other tests whose part some version hides, or that hide this one's. */
  readonly hides: readonly TestId[]
  /** The titles of the pages in which visitors would be sent round once the test runs; `null` where they would not. */
  readonly circle: readonly string[] | null
  /** Of each version, the pages that can be come to from where the test shows, by links, forms and what they lead to. */
  readonly ways: readonly { readonly version: VersionId; readonly pages: ReadonlySet<DocumentId> }[]
  /** Versions that nobody can tell from an earlier one: on every page of the test, the same is sent. */
  readonly same: readonly { readonly version: VersionId; readonly as: VersionId }[]
  /** Versions that whoever is shown a rule’s version cannot tell from the original: the rule comes first. */
  readonly sameByRule: readonly SameByRule[]
  /** Why the pages could not be looked at; `null` where they were. */
  readonly fault: string | null
}

/** Versions in which a page lacks what the same page has in another version; `null` where none has it. */
export function lacking(
  { pages }: Shown,
  has: (shown: ShownPage) => boolean,
  versions: readonly VersionId[],
): readonly VersionId[] | null {
  const having = pages.filter(has)
  if (having.length === 0) return null
  const where = new Set(having.map(({ page }) => page))
  return versions.filter((version) =>
    [...where].some((page) => !having.some((shown) => shown.page === page && shown.version === version)),
  )
}

/**
 * Versions from which none of these pages can be come to, where the original leads to one: that way is known, and is missing.
 * Where the original leads to none, visitors come to it otherwise, and nothing is said.
 */
export function withoutWay({ ways }: Shown, to: readonly DocumentId[], original: VersionId): VersionId[] {
  const leads = (pages: ReadonlySet<DocumentId>) => to.some((page) => pages.has(page))
  const before = ways.find(({ version }) => version === original)
  if (before === undefined || !leads(before.pages)) return []
  return ways.filter(({ pages }) => !leads(pages)).map(({ version }) => version)
}

/** The pages that show nothing in a version. */
export function blankPages({ pages }: Shown): ShownPage[] {
  return pages.filter(({ blank }) => blank)
}

/** Links that lead nowhere, once for each version; `worse` where the original's lead somewhere. */
export function deadLinks({ pages }: Shown, original: VersionId): { shown: ShownPage; link: ShownLink; worse: boolean }[] {
  const key = (page: DocumentId, { address, words }: ShownLink) => `${page} ${address} ${words}`
  const before = new Set(
    pages.filter(({ version }) => version === original).flatMap(({ page, links }) => links.map((link) => key(page, link))),
  )
  const met = new Set<string>()
  return pages.flatMap((shown) =>
    shown.links.flatMap((link) => {
      const once = `${shown.version} ${link.address} ${link.words}`
      if (link.answers || met.has(once)) return []
      met.add(once)
      const inherited = shown.version !== original && before.has(key(shown.page, link))
      return inherited ? [] : [{ shown, link, worse: shown.version !== original }]
    }),
  )
}

/** Where a version leads to and its page does not in the original. */
export function newAddresses({ pages }: Shown, version: VersionId, original: VersionId): string[] {
  const of = (page: DocumentId, which: VersionId) =>
    pages.find((shown) => shown.page === page && shown.version === which)?.links.map(({ address }) => address) ?? []
  const own = pages.filter((shown) => shown.version === version)
  return [...new Set(own.flatMap(({ page }) => of(page, version).filter((address) => !of(page, original).includes(address))))]
}
