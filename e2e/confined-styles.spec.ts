import fc from 'fast-check'
import { expect, test, type Page } from '@playwright/test'
import { scopeStyle } from '@/components/style/scope'

/* What a browser makes of a style is the judge of whether it stays in its part. */

const PAGE = `<!doctype html><style>*{color:rgb(1,2,3)}</style>
<main id="out"><header id="out" class="a b"><p id="out" class="a">before</p></header>
<section data-s="s1" class="a x"><p class="a b">in<i class="b">in</i></p><h2 class="b x">in</h2><p class="a">in</p></section>
<section id="out" class="b big"><p id="out" class="a b x">after</p></section>
<section id="out" class="a"><p id="out" class="b"><i id="out" class="x">after</i></p></section></main><footer id="out" class="b">foot</footer>`

/** How many elements outside the part have another colour than before, and how many inside. */
async function reached(page: Page, css: string): Promise<{ outside: number; inside: number }> {
  return page.evaluate((rules) => {
    const style = document.createElement('style')
    style.textContent = rules
    document.head.append(style)
    const changed = (of: string) =>
      [...document.querySelectorAll(of)].filter((one) => getComputedStyle(one).color !== 'rgb(1, 2, 3)').length
    const found = { outside: changed('#out'), inside: changed('[data-s], [data-s] *') }
    style.remove()
    return found
  }, css)
}

const simple = fc.constantFrom(
  '*',
  'p',
  'section',
  '.a',
  '.b',
  '.x',
  ':first-child',
  ':not(.q)',
  ':is(.a, .b)',
  ':has(.b)',
  ':hover',
  ':nth-child(2)',
)
const own = fc.constantFrom(':scope', '&', ':scope.a', '&.x', ':scope:not(.q)', ':SCOPE', ':s\\63 ope')
const later = fc.oneof({ weight: 9, arbitrary: simple }, { weight: 1, arbitrary: own })
const combinator = fc.constantFrom(' ', ' > ', ' + ', ' ~ ')
const rest = (from: fc.Arbitrary<string>) =>
  fc.array(fc.tuple(combinator, from), { maxLength: 3 }).map((parts) => parts.map(([between, next]) => between + next).join(''))
const selector = fc.tuple(fc.oneof(simple, own), rest(later)).map((parts) => parts.join(''))
const nested = fc.tuple(fc.constantFrom('&', '&.x', '&:hover', '&:not(.q)'), rest(later)).map((parts) => parts.join(''))
const rule = fc
  .tuple(fc.array(selector, { minLength: 1, maxLength: 2 }), fc.option(nested))
  .map(([all, inner]) => `${all.join(', ')} { color: red; ${inner === null ? '' : `${inner} { color: lime }`} }`)

test('whatever selectors a style is made of, what is accepted changes nothing outside its part', async ({ page }) => {
  await page.setContent(PAGE)
  let accepted = 0
  let used = 0
  await fc.assert(
    fc.asyncProperty(rule, async (css) => {
      const { css: scoped, faults } = scopeStyle(css, 's1')
      if (faults.length > 0) return
      accepted++
      const { outside, inside } = await reached(page, scoped)
      if (inside > 0) used++
      expect(outside, `${css} became ${scoped}`).toBe(0)
    }),
    { numRuns: 2000, seed: 20_261_126 },
  )
  // Confining that refused everything, or reached nothing, would hold this too.
  expect([accepted > 300, used > 150]).toEqual([true, true])
})
