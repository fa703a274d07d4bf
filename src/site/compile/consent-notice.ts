import type { Consent } from '@/core/decide'
import { escaped } from '@/core/markup'
import { UNCOUNTED, type Chunk } from './chunk'

/** The slot in which visitors are asked; no test has such a name. */
export const CONSENT = '~consent'
export const ASKED = 'asked'

/** The notice at the foot of a page, for those who have not answered yet. It works without a script. */
export function consentNotice(consent: Consent, back: string): Chunk[] {
  if (!consent.asked) return []
  return [
    {
      key: CONSENT,
      alternatives: new Map<string, readonly Chunk[]>([
        [UNCOUNTED, []],
        [ASKED, [Buffer.from(consentForm(consent, back))]],
      ]),
    },
  ]
}

export function consentForm({ words, yes, no }: Consent, back: string): string {
  return `<aside class="consent" aria-label="${escaped(words.slice(0, 60))}"><form method="post" action="/consent"><p>${escaped(words)}</p><input type="hidden" name="back" value="${escaped(back)}"><button name="answer" value="yes">${escaped(yes)}</button><button name="answer" value="no">${escaped(no)}</button></form></aside>`
}
