import { isSameData } from '../../same-data'
import { apply, type Edit, type Refusal } from '../../document'
import { ORIGINAL } from '../../decide'
import type { VersionId } from '../../ids'
import { leaveOut, openPage, variantsOf, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'noVariant' }
  | { readonly code: 'variantSame'; readonly version: VersionId }
  | { readonly code: 'variantsSame'; readonly version: VersionId; readonly as: VersionId }
  | { readonly code: 'sameForAll'; readonly version: VersionId; readonly rule: string }
  | { readonly code: 'sameForSome'; readonly version: VersionId; readonly rule: string }
  | { readonly code: 'editUnfit'; readonly version: VersionId; readonly edit: Edit; readonly refusal: Refusal }

export const variants: ReadinessCheck<Found> = {
  passed: 'Every variant differs from the original',
  blocks: (facts) => [...variantsDiffer(facts), ...looksSame(facts), ...sameForAll(facts)],
  advises: sameForSome,
  words: {
    noVariant: () => ({
      words: 'There is nothing to compare with the original yet. Make a variant on the page.',
      settle: openPage,
    }),
    variantSame: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ does not differ from the original. Change something in it, or leave it out.`,
      settle: leaveOut(finding.version),
    }),
    variantsSame: ({ version, as }, names) => ({
      words: `Nobody can tell ‘${names.version(version)}’ from ‘${names.version(as)}’: on every page of the test the same is sent. Change something in it, or leave it out.`,
      settle: leaveOut(version),
    }),
    sameForAll: ({ version, rule }, names) => ({
      words: `This test is for those to whom a rule shows ‘${rule}’, and with that ‘${names.version(version)}’ looks like the original. Change something in it.`,
      settle: openPage,
    }),
    sameForSome: ({ version, rule }, names) => ({
      words: `Whoever is shown ‘${rule}’ by a rule cannot tell ‘${names.version(version)}’ from the original: the rule comes first.`,
      settle: openPage,
    }),
    editUnfit: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ changes a component that is no longer on the published page. Open the page and take that edit back.`,
      settle: openPage,
    }),
  },
}

function variantsDiffer(facts: ReadinessFacts): Found[] {
  const variants = variantsOf(facts)
  if (variants.length === 0) return [{ code: 'noVariant' }]
  return variants.flatMap(({ version: { id: version, edits }, document: home }): Found[] => {
    if (edits.length === 0) return [{ code: 'variantSame', version }]
    const original = facts.published.get(home)
    if (original === undefined) return []
    const { document, refused } = apply(original, edits)
    if (refused.length > 0) return refused.map((fault) => ({ code: 'editUnfit', version, ...fault }))
    return isSameData(document, original) ? [{ code: 'variantSame', version }] : []
  })
}

/** What visitors get says it, whatever was set to what it was already; of what differs in nothing it is said once. */
function looksSame(facts: ReadinessFacts): Found[] {
  const known = new Set(variantsDiffer(facts).flatMap((found) => (found.code === 'variantSame' ? [found.version] : [])))
  // A script that may not run is told as such.
  const unrun = facts.scripts.allowed ? [] : facts.scripts.versions
  return facts.shown.same.flatMap(({ version, as }): Found[] =>
    known.has(version) || unrun.includes(version)
      ? []
      : as === ORIGINAL
        ? [{ code: 'variantSame', version }]
        : [{ code: 'variantsSame', version, as }],
  )
}

/** What the rules of the part leave of the differences, as the pages show it. */
function sameForAll({ design, shown }: ReadinessFacts): Found[] {
  return shown.sameByRule.flatMap(({ version, rule, condition }): Found[] =>
    isSameData(condition, design.audience) ? [{ code: 'sameForAll', version, rule }] : [],
  )
}

function sameForSome({ design, shown }: ReadinessFacts): Found[] {
  return shown.sameByRule.flatMap(({ version, rule, condition }): Found[] =>
    isSameData(condition, design.audience) ? [] : [{ code: 'sameForSome', version, rule }],
  )
}
