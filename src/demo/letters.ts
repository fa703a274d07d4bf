import type { SendingPlan } from '@/contract/contract'
import type { ContentDocument } from '@/core/document'
import { button, call, documentOf, heading, picture, piece, quote, text } from './build-page'

/** Newsletters to the made-up list: one that was sent last week, one that is being written. */
export const letters: readonly ContentDocument[] = [
  documentOf(
    'letter-first-notes',
    'letter',
    piece(
      'letter',
      {
        title: 'A cello that somebody carried up a lighthouse',
        opening: 'And what it sounded like at the top. Also: hold one first.',
        campaign: 'First notes',
      },
      [
        heading('A cello that somebody carried up a lighthouse', 'h1', { size: 'large' }, 'title'),
        picture('cello', 'A cello leaning in the light'),
        text(
          '<p>Nils Arrow borrowed cello number four for a month, and on the third Sunday he took it up the two hundred and six steps of Grebe Head. He says that the wind kept time. We have asked him to use the lift next time, but there is none.</p>',
        ),
        call('ask-trial-lesson', 'banner', 'lesson'),
        text(
          '<p>Free again since this week: the harp, both accordions and the small marimba. The van goes round on Thursday; whatever you <a href="page:instruments">choose from the list</a> by Wednesday comes along.</p>',
        ),
        call('ask-reserve-instrument', 'card', 'reserve'),
        quote('I have not touched a string for thirty years. It took four minutes.', 'Dora Venn, Saltmarsh'),
      ],
    ),
  ),
  documentOf(
    'letter-dry-january',
    'letter',
    piece(
      'letter',
      {
        title: 'Wood in January: the ten-minute check',
        opening: 'Dry rooms are hard on old wood. Twelve pages on what helps.',
        campaign: 'Dry January',
      },
      [
        heading('Wood in January', 'h1', { size: 'large' }, 'title'),
        text(
          '<p>The heating is on, and every soundboard in the five towns is a little thinner than in June. Ten minutes and a damp cloth are enough.</p>',
        ),
        call('ask-care-guide', 'banner', 'guide'),
        button('Read the whole story', 'page:article-january'),
      ],
    ),
  ),
]

/** Who got the first of them, how many days ago, and what was true of them. */
export const sentLetter: { readonly id: string; readonly daysAgo: number; readonly plan: SendingPlan } = {
  id: 'letter-first-notes',
  daysAgo: 5,
  plan: { readers: 2400, opens: 0.44, follows: { original: 0.1, variant: 0.14 }, buys: 0.3, value: 24 },
}
