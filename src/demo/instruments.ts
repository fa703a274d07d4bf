import type { ContentDocument } from '@/core/document'
import { button, call, card, cards, columns, heading, lead, pageOf, picture, piece, quote, section, text } from './build-page'

interface Instrument {
  readonly id: string
  readonly name: string
  readonly price: string
  readonly tagline: string
  readonly alt: string
  readonly story: string
  readonly first: string
  readonly includes: string
  readonly sizes: string
  readonly said: readonly [words: string, by: string]
}

export const instruments: readonly Instrument[] = [
  {
    id: 'violin',
    name: 'Violin',
    price: '14',
    tagline: 'Small, loud and forgiving once you know where your elbow goes.',
    alt: 'A violin leaning against a shelf',
    sizes: 'Seven sizes, from one sixteenth to full',
    story:
      'Our violins are set up in the Harrowby workshop, with a bridge cut for each one and strings that stay in tune through a cold church. Children change sizes as they grow, and so does the rent: it stays the same.',
    first:
      'In the first week you will hold the bow like a teaspoon and play four open strings. In the fourth, most people play a tune their neighbours know.',
    includes: 'Bow, rosin and a shoulder rest\nA hard case with a strap\nA spare set of strings\nSize changes without a fee',
    said: ['She went through three sizes in two years and we never bought one.', 'Ines, mother of a violinist in Fenmouth'],
  },
  {
    id: 'cello',
    name: 'Cello',
    price: '24',
    tagline: 'It hums through your ribs. That is why people stay with it.',
    alt: 'A cello on its spike in a quiet room',
    sizes: 'Four sizes, from a quarter to full',
    story:
      'A cello costs as much as a small car and fits in one too. Ours come with a stand, because the safest place for a cello is upright in the room where you pass it every day.',
    first:
      'You will start with long slow bows on one string. It sounds good on the first evening, which cannot be said of everything here.',
    includes: 'Bow, rosin and an end-pin stop\nA padded bag with wheels\nA floor stand\nDelivery within the five towns',
    said: ['I began at sixty-one. The stand was the clever part: it looks at me until I play.', 'Tomas, Little Osk'],
  },
  {
    id: 'harp',
    name: 'Harp',
    price: '32',
    tagline: 'Twenty-six strings and no wrong notes in C.',
    alt: 'A small harp with red and black strings',
    sizes: 'Lap harp or standing harp',
    story:
      'Our harps are lever harps, light enough to carry up a flight of stairs. The red strings are C and the black ones F; nobody has to tell you twice.',
    first:
      'Two fingers of each hand are enough for the first month. The levers change key by hand, so the third month has a surprise in it.',
    includes: 'A tuning key and an electronic tuner\nA cover and a low stool\nTwo spare strings of each kind',
    said: ['People stop at our window in the evening. That never happened with the drum.', 'Ottilie, Stonebeck'],
  },
  {
    id: 'guitar',
    name: 'Guitar',
    price: '11',
    tagline: 'Three chords by Sunday, a hundred songs by spring.',
    alt: 'A classical guitar with a cedar top',
    sizes: 'Half, three quarters and full; left-handed on request',
    story:
      'Nylon strings, a cedar top and a neck that has been checked with a straight edge. We lend classical guitars because they are kind to fingertips.',
    first: 'The first chord hurts a little, the second less. By the third weekend you will change between them without looking.',
    includes: 'A padded bag\nA footstool and a clip tuner\nA song sheet for each town',
    said: ['My brother has the other one. We swap when we swap songs.', 'Pio, Alderwick'],
  },
  {
    id: 'trumpet',
    name: 'Trumpet',
    price: '16',
    tagline: 'Bright as a street in summer. A practice mute is included.',
    alt: 'A brass trumpet catching the light',
    sizes: 'Standard, and a light one for small hands',
    story:
      'Each trumpet is taken apart, bathed and put together again before it is lent, with fresh felts and a mouthpiece that is yours to keep.',
    first: 'The first sound is a buzz without the trumpet. Ten minutes a day is plenty: lips tire long before patience does.',
    includes: 'A new mouthpiece, yours to keep\nA practice mute\nValve oil and a cloth',
    said: ['The mute saved our friendship with the flat below.', 'Wanda, Harrowby'],
  },
  {
    id: 'clarinet',
    name: 'Clarinet',
    price: '15',
    tagline: 'One reed, twenty-four holes, every mood there is.',
    alt: 'A clarinet in its open case',
    sizes: 'B flat; a short one for children from seven',
    story:
      'Resin bodies that do not mind a school bag, keys adjusted by hand. We send three strengths of reed, because nobody knows which one is theirs.',
    first: 'A first note takes a minute and a first squeak not much longer. Both are signs of progress.',
    includes: 'Nine reeds in three strengths\nA hard case\nCork grease and a swab',
    said: ['They exchanged the reeds twice without asking why.', 'Anselm, Fenmouth'],
  },
  {
    id: 'flute',
    name: 'Flute',
    price: '15',
    tagline: 'The lightest case in the library, and the furthest sound.',
    alt: 'A silver flute across a sheet of music',
    sizes: 'Straight or curved head',
    story:
      'Closed holes, a curved head for arms that are still growing, and pads that seal. The whole thing weighs less than a bag of oranges.',
    first: 'Blow across a bottle: that is the first lesson. The second is not to get dizzy.',
    includes: 'Straight and curved head joints\nA cleaning rod and cloth\nA case with a shoulder strap',
    said: ['It goes to school in the front pocket.', 'Mirko, Stonebeck'],
  },
  {
    id: 'accordion',
    name: 'Accordion',
    price: '27',
    tagline: 'A small orchestra with straps.',
    alt: 'A red accordion half open',
    sizes: 'Forty-eight or seventy-two basses',
    story:
      'Bellows without leaks, reeds tuned close so that it sings rather than shouts. The forty-eight bass fits on a train seat and in most rucksacks.',
    first: 'Right hand first, buttons on the left when you are ready. Most people play for a dance within the year.',
    includes: 'A rucksack case\nLeather straps, two lengths\nA first book of dances',
    said: ['Three weddings so far. I had it for one.', 'Jarek, Alderwick'],
  },
  {
    id: 'drum',
    name: 'Frame drum',
    price: '9',
    tagline: 'Older than writing. Fits under the bed.',
    alt: 'A frame drum with a goatskin head',
    sizes: 'Fourteen or eighteen inches',
    story:
      'A ring of ash and one skin that answers to weather and to fingertips. It is the cheapest thing we lend, and the one most often kept.',
    first: 'Thumb for the low sound, ring finger for the high one. You will have a rhythm before the kettle boils.',
    includes: 'A soft bag\nTwo beaters\nA felt to keep the neighbours',
    said: ['I hired it for a play and never gave it back. They send a card every year.', 'Sefa, Little Osk'],
  },
  {
    id: 'marimba',
    name: 'Marimba',
    price: '36',
    tagline: 'Warm wood, four mallets, and a delivery crew who know stairs.',
    alt: 'The bars of a marimba from above',
    sizes: 'Three octaves, or four and a third',
    story:
      'Bars of padauk over tuned pipes. We bring it in two cases, put it together in twenty minutes and show you how to fold it.',
    first:
      'Two mallets and a scale. The bars are marked on the frame for the first month; peel the marks off when you stop looking.',
    includes: 'Delivery and assembly\nTwo pairs of mallets\nA cover that keeps the cat out',
    said: ['It is the only furniture we all agree on.', 'The Amsel family, Harrowby'],
  },
]

export const instrumentCard = ({ id, name, tagline, price }: Instrument) =>
  card(name, tagline, { picture: id, note: `${price} crowns a month`, link: `page:${id}` })

const withArticle = (name: string) => `${/^[AEIOU]/.test(name) ? 'an' : 'a'} ${name.toLowerCase()}`

/** One page of the type Instrument for each. */
export const instrumentPages: readonly ContentDocument[] = instruments.map((one) =>
  pageOf({
    id: one.id,
    path: `/instruments/${one.id}`,
    title: `Rent ${withArticle(one.name)} by the month`,
    description: `${one.tagline} ${one.price} crowns a month, everything included.`,
    pageType: 'Instrument',
    body: [
      section('light', [
        columns('even', [
          [
            heading(one.name, 'h1', {}, 'title'),
            lead(one.tagline),
            text(`<p><strong>${one.price} crowns a month.</strong> ${one.sizes}. Give it back whenever you like.</p>`),
            button(
              `Reserve ${withArticle(one.name)}`,
              'page:reserve',
              { colour: 'accent', size: 'large', marker: 'reserve' },
              'reserve',
            ),
          ],
          [picture(one.id, one.alt, 'arch')],
        ]),
      ]),
      section('plain', [
        columns('leftWide', [
          [heading('What you get', 'h2'), text(one.story), heading('The first weeks', 'h3'), text(one.first)],
          [
            heading('In the case', 'h3'),
            text(
              `<ul>${one.includes
                .split('\n')
                .map((item) => `<li>${item}</li>`)
                .join('')}</ul>`,
            ),
          ],
        ]),
      ]),
      section('plain', [quote(one.said[0], one.said[1], 'aside')], { spacing: 'close' }),
      section('plain', [call('ask-trial-lesson')], { spacing: 'close' }),
    ],
  }),
)

export const instrumentList: ContentDocument = pageOf({
  id: 'instruments',
  path: '/instruments',
  title: 'Instruments to rent by the month',
  description: 'Ten instruments, set up by hand, lent by the month with everything you need to begin.',
  body: [
    section(
      'light',
      [
        heading('Ten instruments, ready to play', 'h1', {}, 'title'),
        lead('Every one is cleaned, set up and tried by somebody who plays it before it leaves the shelf.'),
      ],
      { spacing: 'close' },
    ),
    section('plain', [cards('threes', instruments.map(instrumentCard), 'list')]),
    section('plain', [call('ask-care-guide', 'card')], { spacing: 'close' }),
    section('deep', [
      columns('even', [
        [
          heading('Not sure which?'),
          text(
            'Come to a trial lesson. You will hold three instruments in forty minutes, and know by the end which one you did not want to put down.',
          ),
        ],
        [piece('button', { words: 'Book a trial lesson', link: 'page:trial-lesson', colour: 'accent', size: 'large' })],
      ]),
    ]),
  ],
})
