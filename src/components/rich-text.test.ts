import { richText } from './rich-text'

test.each([
  ['<p>Hire a <strong>cello</strong></p>', '<p>Hire a <strong>cello</strong></p>'],
  ['<p onclick="steal()">Hello</p>', '<p>Hello</p>'],
  ['<script>steal()</script><p>Hello</p>', '<p>Hello</p>'],
  ['<a href="javascript:steal()">x</a>', '<a>x</a>'],
  ['<a href="page:plans">plans</a>', '<a href="page:plans">plans</a>'],
  ['<img src=x onerror=steal()>', ''],
  ['<b>bold</b><i>slanted</i>', '<strong>bold</strong><em>slanted</em>'],
  ['<p style="position:fixed">x</p><iframe src="//evil"></iframe>', '<p>x</p>'],
])('%s becomes %s', (dirty, clean) => {
  expect(richText(dirty)).toBe(clean)
  expect(richText(clean)).toBe(clean)
})
