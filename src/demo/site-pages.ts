import type { ContentDocument } from '@/core/document'
import {
  button,
  call,
  card,
  cards,
  columns,
  documentOf,
  field,
  form,
  heading,
  lead,
  pageOf,
  picture,
  piece,
  quote,
  section,
  text,
} from './build-page'
import { instrumentCard, instrumentList, instrumentPages, instruments } from './instruments'

const towns = 'Alderwick, Fenmouth, Harrowby, Little Osk, Stonebeck'
const favourites = instruments.filter(({ id }) => ['cello', 'guitar', 'accordion'].includes(id))

const home = pageOf({
  id: 'home',
  path: '/',
  title: 'Pinemoth Instrument Library',
  description: 'Rent an instrument by the month in five towns. Set up by hand, delivered, and taken back whenever you like.',
  body: [
    section(
      'light',
      [
        columns('leftWide', [
          [
            heading('Borrow an instrument. Keep it as long as you play.', 'h1', {}, 'title'),
            lead(
              'Pinemoth lends violins, cellos, guitars and seven others by the month, set up by hand and ready for the first note.',
            ),
            button('See the instruments', 'page:instruments', { colour: 'deep', size: 'large' }, 'to-instruments'),
          ],
          [picture('shelves', 'Instruments resting on tall shelves', 'arch')],
        ]),
      ],
      {},
      'hero',
    ),
    section('plain', [call('ask-reserve-instrument', 'banner', 'banner')], { spacing: 'close' }, 'banner-section'),
    section('plain', [heading('Most often carried home'), cards('threes', favourites.map(instrumentCard), 'favourites')]),
    section('light', [
      columns('even', [
        [picture('lesson', 'A teacher and a beginner at a music stand')],
        [
          heading('Try before you rent', 'h2', {}, 'lesson-title'),
          text(
            'A trial lesson lasts forty minutes and costs nothing. Bring somebody who will tell you the truth; leave with the instrument if you like.',
          ),
          button('Book a trial lesson', 'page:trial-lesson', { colour: 'quiet' }),
        ],
      ]),
    ]),
    section(
      'plain',
      [quote('We had a cello in the hall for a month. Now we have a cellist.', 'Hedda and Ruben, Harrowby')],
      {},
      'said',
    ),
    section('deep', [
      columns('leftWide', [
        [
          heading('Five towns, one van', 'h2', {}, 'van-title'),
          text(`We deliver to ${towns} on Tuesdays and Fridays, carry things up the stairs, and take them back the same way.`),
        ],
        [button('How it works', 'page:about', { colour: 'accent' })],
      ]),
    ]),
  ],
})

const plans = pageOf({
  id: 'plans',
  path: '/plans',
  title: 'Plans and prices',
  description: 'Three ways to rent: by the month, by the school year, or for the whole household.',
  body: [
    section(
      'light',
      [
        heading('One price a month. Strings are on us.', 'h1', {}, 'title'),
        lead('Every plan includes set-up, repairs and delivery within the five towns. Nothing is added at the end.'),
      ],
      { spacing: 'close' },
    ),
    section('plain', [
      piece(
        'planTable',
        { arrangement: 'columns' },
        [
          piece('plan', {
            title: 'Month by month',
            price: 'from 9',
            period: 'crowns a month',
            includes: 'Any instrument\nGive it back any day\nOne exchange a year',
            buttonWords: 'Reserve',
            link: 'page:reserve',
          }),
          piece('plan', {
            title: 'School year',
            price: 'from 7',
            period: 'crowns a month',
            includes: 'Any instrument, ten months\nSize changes without a fee\nSummer months at half price\nTwo exchanges',
            buttonWords: 'Reserve',
            link: 'page:reserve',
            favoured: true,
          }),
          piece('plan', {
            title: 'Household',
            price: '34',
            period: 'crowns a month',
            includes: 'Two instruments at a time\nExchange them as often as you like\nA visit from the tuner each spring',
            buttonWords: 'Reserve',
            link: 'page:reserve',
          }),
        ],
        'table',
      ),
    ]),
    section('plain', [
      columns('even', [
        [
          heading('If it breaks', 'h3'),
          text(
            'Things happen to instruments that live in houses. The first repair of each year is free; after that you pay for parts and never for hours.',
          ),
        ],
        [
          heading('If you want to keep it', 'h3'),
          text(
            'After a year, half of what you have paid counts towards the price. About one in six of our instruments has found its home that way.',
          ),
        ],
      ]),
    ]),
    section(
      'plain',
      [
        heading('What people ask before they sign'),
        piece(
          'accordion',
          {},
          [
            piece('accordionItem', {
              title: 'Can I give it back in the middle of a month?',
              words: '<p>On any day. You pay for the days you had it.</p>',
            }),
            piece('accordionItem', {
              title: 'What if a child outgrows it?',
              words: '<p>We change the size at the door and the rent stays as it was.</p>',
            }),
            piece('accordionItem', {
              title: 'Is it insured?',
              words: '<p>Against everything but being left in the rain. <a href="page:about">How we look after them</a>.</p>',
            }),
          ],
          'questions',
        ),
      ],
      { width: 'text' },
      'faq',
    ),
    section('plain', [call('ask-care-guide', 'banner')], { spacing: 'close' }),
  ],
})

const workshops = pageOf({
  id: 'workshops',
  path: '/workshops',
  title: 'Workshops',
  description: 'Evenings and Saturdays for people who want to look inside.',
  body: [
    section(
      'light',
      [
        heading('Evenings with glue, felt and patience', 'h1', {}, 'title'),
        lead('Six people, one bench, and somebody who has done it a thousand times.'),
      ],
      { spacing: 'close' },
    ),
    section('plain', [
      cards('rows', [
        card('Change your own strings', 'Bring your violin, cello or guitar. Leave with new strings and the old ones in a bag.', {
          picture: 'workshop',
          note: 'Harrowby, first Thursday of the month',
          link: 'page:workshop-strings',
        }),
        card('Inside the accordion', 'We take one apart down to the reeds and put it together before supper.', {
          picture: 'accordion',
          note: 'Alderwick, a Saturday in spring',
          link: 'page:workshop-accordion',
        }),
      ]),
    ]),
    section(
      'light',
      [
        piece(
          'steps',
          {},
          [
            piece('step', { title: 'Ask for a place', words: 'Write to us; six people fit at the bench.' }),
            piece('step', { title: 'Bring it along', words: 'Your instrument, or one of ours.' }),
            piece('step', { title: 'Take it apart', words: 'And, before supper, put it together.' }),
          ],
          'how',
        ),
      ],
      { spacing: 'close' },
      'how-section',
    ),
    section(
      'plain',
      [
        piece(
          'testimonial',
          {
            words: 'I came with a box of parts and left with a guitar. Most of it is mine.',
            by: 'Ottoline Fenn',
            role: 'carpenter, Alderwick',
            picture: 'workshop',
            arrangement: 'wide',
          },
          [],
          'voice',
        ),
      ],
      { width: 'text', spacing: 'close' },
      'voice-section',
    ),
  ],
})

const workshop = (id: string, title: string, intro: string, what: string, bring: string, image: string) =>
  pageOf({
    id: `workshop-${id}`,
    path: `/workshops/${id}`,
    title,
    description: intro,
    pageType: 'Workshop',
    body: [
      section('light', [columns('leftWide', [[heading(title, 'h1'), lead(intro)], [picture(image, '', 'square')]])], {
        spacing: 'close',
      }),
      section(
        'plain',
        [
          heading('What we do'),
          text(what),
          heading('What to bring', 'h3'),
          text(bring),
          button('Ask for a place', 'page:contact', { colour: 'deep' }),
        ],
        { width: 'text' },
      ),
    ],
  })

const journal = pageOf({
  id: 'journal',
  path: '/journal',
  title: 'Journal',
  description: 'Notes from the workshop, the van and the people who borrow.',
  body: [
    section('light', [heading('From the bench and the van', 'h1')], { spacing: 'close' }),
    section('plain', [piece('pageList', { pageType: 'Article', arrangement: 'rows' }, [], 'list')]),
    section('plain', [call('ask-sunday-letter', 'card')], { spacing: 'close' }),
  ],
})

const article = (id: string, title: string, teaser: string, image: string, paragraphs: readonly string[]) =>
  pageOf({
    id: `article-${id}`,
    path: `/journal/${id}`,
    title,
    description: teaser,
    pageType: 'Article',
    about: { teaser, picture: image },
    body: [
      section('light', [heading(title, 'h1', {}, 'title'), lead(teaser)], { width: 'text', spacing: 'close' }),
      section('plain', [picture(image, ''), ...paragraphs.map((words) => text(words))], { width: 'text' }),
      section('plain', [call('ask-sunday-letter', 'banner')], { spacing: 'close' }),
    ],
  })

const schools = pageOf({
  id: 'schools',
  path: '/schools',
  title: 'For schools',
  description: 'Class sets of any instrument for a term or a year, with a teacher’s morning to begin.',
  body: [
    section('light', [
      columns('even', [
        [
          heading('Thirty violins, one invoice', 'h1', {}, 'title'),
          lead('Class sets for a term or a year, insured, labelled and delivered in the week before school begins.'),
        ],
        [picture('children', 'Children with small violins in a row')],
      ]),
    ]),
    section('plain', [
      cards('threes', [
        card('A set that fits', 'Tell us the ages; we pack the sizes and a few spares.'),
        card('A morning for teachers', 'How to tune thirty strings before the bell, and other useful magic.'),
        card('Repairs on Wednesdays', 'Put a red label on it. We come by, and it is back within the week.'),
      ]),
    ]),
    section('deep', [
      columns('leftWide', [
        [heading('Forty-one schools so far'), text('From village schools with one room to the music college in Fenmouth.')],
        [button('Write to us', 'page:contact', { colour: 'accent' })],
      ]),
    ]),
  ],
})

const trial = pageOf({
  id: 'trial-lesson',
  path: '/trial-lesson',
  title: 'Book a trial lesson',
  description: 'Forty minutes with a teacher and three instruments. It costs nothing.',
  body: [
    section('light', [
      columns('even', [
        [
          heading('Forty minutes, three instruments', 'h1'),
          lead('A teacher, a quiet room, and no need to have held anything before.'),
          text(
            '<ul><li>In all five towns, afternoons and Saturdays</li><li>Alone or in pairs</li><li>Free, and nobody will telephone you afterwards</li></ul>',
          ),
        ],
        [
          form(
            'Choose your town',
            'Book the lesson',
            'page:trial-thanks',
            [
              field('Your name', 'name'),
              field('E-mail', 'email', 'email'),
              field('Town', 'town', 'select', { choices: towns }),
              field('I would like to try', 'wish', 'select', { choices: instruments.map(({ name }) => name).join(', ') }),
            ],
            {},
            'form',
          ),
        ],
      ]),
    ]),
    section('plain', [quote('I came for the flute and left with the drum.', 'Sefa, Little Osk', 'aside')], { spacing: 'close' }),
  ],
})

const reserve = pageOf({
  id: 'reserve',
  path: '/reserve',
  title: 'Reserve an instrument',
  description: 'Tell us what, where and from when. We answer within a day.',
  body: [
    section('light', [
      columns('leftWide', [
        [
          heading('Reserve yours', 'h1', {}, 'title'),
          form(
            '',
            'Reserve it',
            'page:reserved',
            [
              field('Instrument', 'instrument', 'select', { choices: instruments.map(({ name }) => name).join(', ') }),
              field('From', 'from', 'date'),
              field('Your name', 'name'),
              field('E-mail', 'email', 'email'),
              field('Town', 'town', 'select', { choices: towns }),
              field('Anything we should know', 'note', 'textarea', { required: false }),
            ],
            { arrangement: 'pairs', order: '24' },
            'form',
          ),
        ],
        [
          picture('town', 'The van in front of a row of houses', 'square'),
          heading('What happens next', 'h2', { size: 'medium' }),
          text(
            '<ol><li>We write within a day with the nearest delivery.</li><li>The van brings it, Tuesday or Friday.</li><li>The first month starts when you have played it.</li></ol>',
          ),
        ],
      ]),
    ]),
  ],
})

const thanks = (id: string, path: string, title: string, words: string, more: string) =>
  pageOf({
    id,
    path,
    title,
    description: words,
    pageType: 'Confirmation',
    body: [
      section('light', [
        columns('leftWide', [
          [heading(title, 'h1'), lead(words), text(more), button('Back to the start', 'page:home', { colour: 'quiet' })],
          [picture('letter', 'An envelope with a moth on the stamp', 'square')],
        ]),
      ]),
    ],
  })

const schoolsLetter = pageOf({
  id: 'schools-letter',
  path: '/schools/letter',
  title: 'A letter to schools',
  description: 'What a class set is, in the words of somebody who delivers them.',
  body: [
    section(
      'light',
      [
        heading('Dear school,', 'h1', {}, 'title'),
        lead('you have thirty children and no violins. We have violins. This is how it goes.'),
        text(
          'You write to us with the ages. In the week before term the van comes with thirty cases, each with a name on it. On the first morning one of us shows your teachers how to tune thirty strings before the bell.',
        ),
        text('When something breaks, you put a red label on it. On Wednesday it is gone, and the Wednesday after it is back.'),
        button('Write to us', 'page:contact', { colour: 'accent', size: 'large' }, 'write'),
      ],
      { width: 'text' },
    ),
  ],
})

const about = pageOf({
  id: 'about',
  path: '/about',
  title: 'How Pinemoth works',
  description: 'A library for instruments, run by the people who mend them.',
  body: [
    section('light', [
      columns('even', [
        [
          heading('A library with a workshop at the back', 'h1', {}, 'title'),
          lead('It began with eleven violins that a school wanted to throw away.'),
        ],
        [picture('workshop', 'A bench with tools and half a violin', 'square')],
      ]),
    ]),
    section(
      'plain',
      [
        text(
          'We mended the violins, lent them to whoever asked, and were asked for cellos. Twelve years later there are nine hundred instruments, five towns and one van that knows every staircase.',
        ),
        text(
          'Pinemoth belongs to its eleven members of staff. Whatever is left at the end of a year becomes more instruments; last year it was six harps and a marimba.',
        ),
        piece('video', { film: 'bow', poster: 'violin', caption: 'Four strings, seen from close by', loop: true }, [], 'film'),
        heading('What we promise', 'h2', { size: 'medium' }),
        text(
          '<ul><li>You may give anything back on any day.</li><li>Nothing leaves the shelf that we would not play ourselves.</li><li>Letters are answered by a person who has held your instrument.</li></ul>',
          {},
          'promise',
        ),
        button('The guild of instrument menders', 'https://menders-guild.example/towns', { colour: 'quiet' }, 'guild'),
      ],
      { width: 'text' },
      'story',
    ),
    section(
      'plain',
      [
        heading('Round the five towns'),
        piece('gallery', { arrangement: 'grid' }, [
          piece('galleryPicture', {
            picture: 'shelves',
            alt: 'Tall shelves with instruments',
            caption: 'The shelves in Harrowby',
          }),
          piece('galleryPicture', { picture: 'town', alt: 'The van before a row of houses', caption: 'The van in Fenmouth' }),
          piece('galleryPicture', {
            picture: 'lesson',
            alt: 'A lesson at a music stand',
            caption: 'A first lesson in Stonebeck',
          }),
        ]),
      ],
      { spacing: 'close' },
      'towns',
    ),
    section(
      'plain',
      [
        piece('tabs', { arrangement: 'above' }, [
          piece('tab', { title: 'Who we are', words: '<p>Eleven people, of whom nine can re-hair a bow.</p>' }),
          piece('tab', {
            title: 'Where the money goes',
            words: '<p>Into strings, wages and diesel. What is left becomes instruments.</p>',
          }),
          piece('tab', { title: 'How to join', words: '<p>Write to us in spring, and bring something you have mended.</p>' }),
        ]),
      ],
      { spacing: 'close', width: 'text' },
    ),
    section('plain', [piece('shared', { shared: 'opening-hours', overrides: [] }, [], 'hours')], {
      spacing: 'close',
      width: 'text',
    }),
    section('plain', [call('ask-reserve-instrument', 'banner')], { spacing: 'close' }),
  ],
})

const contact = pageOf({
  id: 'contact',
  path: '/contact',
  title: 'Contact',
  description: 'Where to find us, and how to write.',
  body: [
    section('light', [
      columns('even', [
        [
          heading('Write, or come by', 'h1'),
          lead('The workshop in Harrowby is open from ten to six, Tuesday to Saturday.'),
          text(
            '<p>Tannery Yard 4, Harrowby<br>Ring the bell with the moth on it.</p><p><a href="mailto:desk@pinemoth.example">desk@pinemoth.example</a></p>',
          ),
        ],
        [
          form('Send us a line', 'Send', 'page:trial-thanks', [
            field('Your name', 'name'),
            field('E-mail', 'email', 'email'),
            field('What is it about?', 'message', 'textarea'),
          ]),
        ],
      ]),
    ]),
    section(
      'plain',
      [
        piece(
          'shared',
          { shared: 'opening-hours', overrides: ['opening-hours-title words "When the bell is answered"'] },
          [],
          'hours',
        ),
      ],
      { spacing: 'close', width: 'text' },
    ),
  ],
})

const newPage = pageOf({
  id: 'gift',
  path: '/gift',
  title: 'Give a month of music',
  description: 'A voucher for a month with any instrument.',
  body: [
    section('light', [
      heading('Give somebody a month of music', 'h1'),
      lead('A voucher on thick paper, with the moth in gold.'),
      button('Reserve an instrument', 'page:reserve'),
    ]),
  ],
})

export const publishedPages: readonly ContentDocument[] = [
  home,
  instrumentList,
  ...instrumentPages,
  plans,
  workshops,
  workshop(
    'strings',
    'Change your own strings',
    'An evening for violins, cellos and guitars.',
    'You take the old strings off one at a time, clean what is under them, and put on a set that we have chosen with you. Each person gets a place at the long bench and a lamp.',
    'Your instrument, and the courage to turn a peg.',
    'violin',
  ),
  workshop(
    'accordion',
    'Inside the accordion',
    'A Saturday with screwdrivers.',
    'Under the grille there are two hundred reeds on wax. We lift a block out, hear what each reed does alone, and tune three of them by scratching less metal than fits under a fingernail.',
    'Nothing. Wear something that forgives wax.',
    'accordion',
  ),
  journal,
  article('ten-minutes', 'Ten minutes a day', 'What forty beginners did with a kitchen timer.', 'lesson', [
    'Last autumn we asked forty people to practise for ten minutes a day and to write down when they did not. Most of them had borrowed a guitar, eight a violin, and one a marimba that had to be asked for.',
    'After six weeks the diaries said what every teacher says: the days before a missed day were long ones. Those who stopped when the timer rang came back; those who played on until it went well were tired the next evening.',
    'So we now lend a kitchen timer with every instrument. It is shaped like a pear. You may keep it.',
  ]),
  article('january', 'How a cello survives January', 'Dry rooms, open seams, and a sponge in a soap box.', 'cello', [
    'Wood drinks from the air. In January, with the heating on, the air has nothing to give, and a cello shrinks by about the width of a hair. The glue is made to give way before the wood does; that is the buzzing you hear.',
    'A wet sponge in a soap box with holes, hung inside the case, is most of the answer. The rest is to keep the instrument away from the radiator and from people who say that it will be fine.',
  ]),
  schools,
  schoolsLetter,
  trial,
  thanks(
    'trial-thanks',
    '/trial-lesson/thanks',
    'See you soon',
    'Your message has arrived, and somebody who plays will read it today.',
    'If you asked for a lesson, we write with a time before tomorrow evening.',
  ),
  reserve,
  thanks(
    'reserved',
    '/reserve/confirmed',
    'It is yours',
    'We have put your name on the shelf, and the van will be in touch within a day.',
    'Clear a corner where you will walk past it. That is the whole secret.',
  ),
  about,
  contact,
]

export const draftPages: readonly ContentDocument[] = [newPage]

const item = (words: string, link: string, inside: readonly ReturnType<typeof piece>[] = []) =>
  piece('menuItem', { words, link }, inside)

export const menus: readonly ContentDocument[] = [
  documentOf(
    'main-menu',
    'menu',
    piece('menuTree', { title: 'Main menu' }, [
      item('Instruments', 'page:instruments', [
        item('Violin', 'page:violin'),
        item('Cello', 'page:cello'),
        item('Clarinet', 'page:clarinet'),
        item('All ten', 'page:instruments'),
      ]),
      item('Plans', 'page:plans'),
      item('Workshops', 'page:workshops', [
        item('Change your strings', 'page:workshop-strings'),
        item('Inside the accordion', 'page:workshop-accordion'),
      ]),
      item('Journal', 'page:journal'),
      item('For schools', 'page:schools'),
      item('Reserve', 'page:reserve'),
    ]),
  ),
  documentOf(
    'foot-menu',
    'menu',
    piece('menuTree', { title: 'Foot menu' }, [
      item('How it works', 'page:about'),
      item('Trial lesson', 'page:trial-lesson'),
      item('Contact', 'page:contact'),
      item('Plans', 'page:plans'),
    ]),
  ),
]

const callTo = (id: string, title: string, words: string, buttonWords: string, link: string, campaign = '', marker = '') =>
  documentOf(id, 'callToAction', piece('callToActionText', { title, words, buttonWords, link, campaign, marker }))

export const callsToAction: readonly ContentDocument[] = [
  callTo(
    'ask-reserve-instrument',
    'Yours by Friday',
    'Reserve today and the van brings it on its next round, set up and in tune.',
    'Reserve an instrument',
    'page:reserve',
    '',
    'reserve',
  ),
  callTo(
    'ask-trial-lesson',
    'Hold it first',
    'A trial lesson is free, lasts forty minutes, and is given by somebody who plays.',
    'Book a trial lesson',
    'page:trial-lesson',
    'First notes',
  ),
  callTo(
    'ask-care-guide',
    'The little care guide',
    'Twelve pages on keeping wood, skin and brass happy. Yours with the first letter.',
    'Ask for the guide',
    'page:contact',
    'Dry January',
  ),
  callTo(
    'ask-sunday-letter',
    'The Sunday letter',
    'One story, one tune, one instrument that is free again. Every other Sunday.',
    'Join the letter',
    'page:contact',
  ),
]

/** What stands on several pages and is edited once. */
export const sharedComponents: readonly ContentDocument[] = [
  documentOf(
    'opening-hours',
    'shared',
    piece('sharedPart', { title: 'Opening hours' }, [
      heading('The workshop is open', 'h2', { size: 'medium' }, 'title'),
      text('<p>Tuesday to Saturday, ten to six. On the first Thursday of a month until the last string is on.</p>', {}, 'words'),
    ]),
  ),
]

/** Restylings of parts of many pages. Empty until somebody finds that one pays. */
export const styles: readonly ContentDocument[] = [
  documentOf(
    'instrument-buttons',
    'style',
    piece('style', { title: 'Buttons of the instruments', reach: 'type', pattern: 'Instrument', part: 'button', css: '' }),
  ),
]

export const campaigns = ['First notes', 'Dry January'] as const
