import { documentOf, heading, lead, piece, section, text } from '@/demo/build-page'

/** What a new site begins with: one page that is there to be written over. */
export const firstPage = documentOf(
  'home',
  'page',
  piece('page', { title: 'Your site', description: '', path: '/', pageType: 'Page' }, [
    piece('mainPart', {}, [
      section('light', [
        heading('This is the first page of your site.', 'h1', {}, 'title'),
        lead('Open it in the studio, select a part, and write over it.'),
        text('Make a variant of a part, say what counts, and see which one works.'),
      ]),
    ]),
  ]),
)
