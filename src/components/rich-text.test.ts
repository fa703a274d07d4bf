import { plainText, richText } from './rich-text'

test.each([
  ['<p>Hire a <strong>cello</strong></p>', '<p>Hire a <strong>cello</strong></p>'],
  ['<p onclick="steal()">Hello</p>', '<p>Hello</p>'],
  ['<script>steal()</script><p>Hello</p>', '<p>Hello</p>'],
  ['<a href="javascript:steal()">x</a>', '<a>x</a>'],
  ['<a href="page:plans">plans</a>', '<a href="page:plans">plans</a>'],
  ['<img src=x onerror=steal()>', ''],
  ['<b>bold</b><i>slanted</i>', '<strong>bold</strong><em>slanted</em>'],
  ['<div>One</div>', '<p>One</p>'],
  ['<ul><li>One</li></ul><ol><li>Two<br /></li></ol>', '<ul><li>One</li></ul><ol><li>Two<br /></li></ol>'],
  ['<a href="//evil.example/x">x</a>', '<a>x</a>'],
  ['<a href="/plans" target="_blank" class="x">x</a>', '<a href="/plans">x</a>'],
  ['<a href="mailto:a@b.example">x</a><a href="tel:+1">y</a>', '<a href="mailto:a@b.example">x</a><a href="tel:+1">y</a>'],
  ['  <p>Hello</p>\n', '<p>Hello</p>'],
  ['<p style="position:fixed">x</p><iframe src="//evil"></iframe>', '<p>x</p>'],
])('%s becomes %s', (dirty, clean) => {
  expect(richText(dirty)).toBe(clean)
  expect(richText(clean)).toBe(clean)
})

test('only the words are left, as they are read, with one space between them', () => {
  expect(plainText(' <p>Hire a\n <strong>cello</strong></p><p>Today</p> ')).toBe('Hire a cello Today')
  expect(plainText('<script>steal()</script><a href="/x">Read   on</a>')).toBe('Read on')
  expect(plainText('<ul><li>One</li><li>Two</li></ul>Three<br>Four<br/>Five')).toBe('One Two Three Four Five')
  expect(plainText('<p>Strings &amp; bows &lt;new&gt; &amp;amp; “old”</p>')).toBe('Strings & bows <new> &amp; “old”')
  expect(plainText('un<b>done</b>')).toBe('undone')
})
