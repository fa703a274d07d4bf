import { documentSchema } from '@/core/document'
import { mailOf, PASS } from './mail'

const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
const letter = documentSchema.parse({
  id: 'sunday',
  kind: 'letter',
  root: 'root',
  nodes: {
    root: {
      type: 'letter',
      props: { title: 'Wood & wire', opening: 'On <dry> rooms', campaign: 'Dry January' },
      children: ['words', 'picture', 'call', 'again', 'away'],
    },
    words: leaf('text', { words: '<p>Read <a href="page:plans#prices">the prices</a>.</p>' }),
    picture: leaf('picture', { picture: 'cello', alt: 'A cello' }),
    call: leaf('callToAction', { callToAction: 'reserve' }),
    again: leaf('callToAction', { callToAction: 'reserve', arrangement: 'button' }),
    away: leaf('button', { words: 'The guild', link: 'https://guild.example/towns?a=1' }),
  },
})
const call = documentSchema.parse({
  id: 'reserve',
  kind: 'callToAction',
  root: 'reserve-root',
  nodes: { 'reserve-root': leaf('callToActionText', { title: 'Yours', buttonWords: 'Reserve', link: 'page:plans' }) },
})
const plans = documentSchema.parse({
  id: 'plans',
  kind: 'page',
  root: 'plans-root',
  nodes: { 'plans-root': leaf('page', { title: 'Plans', path: '/plans' }) },
})
const css = ':root{--brass:#9a5a1a}.button{color:var(--brass)}.button:hover{color:red}@media (max-width:9px){.button{color:blue}}'
const { html, words } = mailOf(letter, { documents: [call, plans], origin: 'https://site.example', css })
const marks = 'utm_source=newsletter&amp;utm_medium=email&amp;utm_campaign=Dry+January'

describe('a newsletter as a mail', () => {
  test('has its styles on each part, with variables resolved, and brings no style sheet, script or order to fetch ahead', () => {
    expect(html).toMatch(/<a class="button[^>]*style="color: #9a5a1a;"/)
    expect(html).not.toMatch(/var\(|<style|<script|rel="preload"|stylesheet/)
  })

  test('leads by way of the site from a call to action, wherever it stands in the letter', () => {
    const follow = `https://site.example/letter/follow?pass=${PASS}&amp;call=reserve&amp;${marks}`
    expect(html.split(`href="${follow}"`)).toHaveLength(3)
    expect(html).not.toMatch(/<aside class="[^"]*button/)
  })

  test('leads straight to pages, with the marks before the place on the page, and leaves other addresses alone', () => {
    expect(html).toContain(`href="https://site.example/plans?${marks}#prices"`)
    expect(html).toContain('href="https://guild.example/towns?a=1"')
  })

  test('names whole addresses of pictures, and tells once that it was opened', () => {
    expect(html).toContain('src="https://site.example/look/media/cello.svg"')
    expect(html.split(`https://site.example/letter/image?pass=${PASS}&amp;calls=reserve"`)).toHaveLength(2)
  })

  test('says what stands after the subject before all else, with nothing in it that could be markup', () => {
    expect(html).toMatch(
      /<body><div style="display:none[^>]*>On &lt;dry> rooms|<body><div style="display:none[^>]*>On &lt;dry&gt; rooms/,
    )
    expect(html).toContain('<title>Wood &amp; wire</title>')
  })

  test('is readable in words alone, links and all', () => {
    expect(words).toMatch(/^On <dry> rooms/)
    expect(words).toContain(`[https://site.example/letter/follow?pass=${PASS}&call=reserve&utm_source=newsletter`)
    expect(words).not.toMatch(/<p|<a |letter\/image/)
  })
})
