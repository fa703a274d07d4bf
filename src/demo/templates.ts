import type { ContentDocument } from '@/core/document'
import {
  button,
  card,
  cards,
  columns,
  documentOf,
  field,
  form,
  heading,
  lead,
  picture,
  piece,
  section,
  text,
  type Piece,
} from './build-page'

/** What a new page can begin from, made of the same components as every page. */
function template({ id, title, pageType, body }: Beginning, withMenus: boolean): ContentDocument {
  const head = piece('menu', { menu: 'main-menu', place: 'header' }, [], 'head')
  const foot = piece('menu', { menu: 'foot-menu', place: 'footer' }, [], 'foot')
  const main = piece('mainPart', {}, body(), 'main')
  return documentOf(
    `template-${id}`,
    'template',
    piece('page', { title, path: `/template-${id}`, pageType }, withMenus ? [head, main, foot] : [main]),
  )
}

const cover = (title: string, words: string) =>
  section('light', [heading(title, 'h1', {}, 'title'), lead(words)], { spacing: 'close' })
const fact = (title: string, words: string) => card(title, words)
const question = (title: string, words: string) => piece('accordionItem', { title, words: `<p>${words}</p>` })

interface Beginning {
  readonly id: string
  readonly title: string
  readonly pageType: string
  /** Made anew each time, as every piece has an id of its own. */
  readonly body: () => readonly Piece[]
}

const beginnings: readonly Beginning[] = [
  {
    id: 'plain',
    title: 'Plain page',
    pageType: 'Page',
    body: () => [
      cover('What this page is about', 'A sentence for those who read no further.'),
      section('plain', [text('The first paragraph.')], { width: 'text' }),
    ],
  },
  {
    id: 'offer',
    title: 'An offer',
    pageType: 'Page',
    body: () => [
      section('light', [
        piece('hero', {
          title: 'What somebody gets',
          words: 'Why it is worth a minute.',
          buttonWords: 'Take it',
          arrangement: 'beside',
        }),
      ]),
      section('plain', [
        cards('threes', [
          fact('One reason', 'Say it plainly.'),
          fact('Another', 'With a figure.'),
          fact('A third', 'In their words.'),
        ]),
      ]),
      section('plain', [piece('testimonial', { words: 'What a customer said about it.', by: 'Who said it' })], {
        width: 'text',
      }),
    ],
  },
  {
    id: 'form',
    title: 'A form',
    pageType: 'Page',
    body: () => [
      section('light', [
        columns('leftWide', [
          [
            heading('What to fill in', 'h1', {}, 'title'),
            form('', 'Send it', '', [
              field('Your name', 'name'),
              field('E-mail', 'email', 'email'),
              field('Message', 'message', 'textarea'),
            ]),
          ],
          [heading('What happens next', 'h2', { size: 'medium' }), text('<ol><li>We read it.</li><li>We write back.</li></ol>')],
        ]),
      ]),
    ],
  },
  {
    id: 'thanks',
    title: 'Thanks',
    pageType: 'Confirmation',
    body: () => [
      section('light', [
        heading('It has arrived', 'h1', {}, 'title'),
        lead('What happens next, and when.'),
        button('Back to the start', 'page:home'),
      ]),
    ],
  },
  {
    id: 'article',
    title: 'Article',
    pageType: 'Article',
    body: () => [
      section('light', [heading('The title of the article', 'h1', {}, 'title'), lead('Its teaser.')], {
        width: 'text',
        spacing: 'close',
      }),
      section('plain', [picture('', ''), text('It begins here.'), text('And goes on.')], { width: 'text' }),
    ],
  },
  {
    id: 'questions',
    title: 'Questions and answers',
    pageType: 'Page',
    body: () => [
      cover('What people ask', 'And what we answer.'),
      section(
        'plain',
        [
          piece('accordion', {}, [
            question('A first question?', 'Its answer.'),
            question('A second?', 'Its answer.'),
            question('A third?', 'Its answer.'),
          ]),
        ],
        { width: 'text' },
      ),
    ],
  },
  {
    id: 'prices',
    title: 'Prices',
    pageType: 'Page',
    body: () => [
      cover('What it costs', 'Everything included.'),
      section('plain', [
        piece('planTable', { arrangement: 'columns' }, [
          piece('plan', { title: 'Small', price: '10', includes: 'This\nAnd that', buttonWords: 'Choose' }),
          piece('plan', {
            title: 'Large',
            price: '20',
            includes: 'All of it\nAnd more',
            buttonWords: 'Choose',
            favoured: true,
          }),
        ]),
      ]),
    ],
  },
  {
    id: 'list',
    title: 'List of pages',
    pageType: 'Page',
    body: () => [
      cover('Everything of one kind', 'Newest first.'),
      section('plain', [piece('pageList', { pageType: 'Article', arrangement: 'rows' })]),
    ],
  },
]

/** Eight, for a site with the demo’s two menus or without any. */
export function templates(withMenus: boolean): readonly ContentDocument[] {
  return beginnings.map((beginning) => template(beginning, withMenus))
}
