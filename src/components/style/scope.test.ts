import { scopeStyle } from './scope'

const scoped = (css: string) => scopeStyle(css, 's1')

describe('a style', () => {
  test.each([
    ['a{color:red}', '[data-s~="s1"] a{color:red}'],
    [':scope{color:red}', '[data-s~="s1"]{color:red}'],
    ['&{color:red}', '[data-s~="s1"]{color:red}'],
    [':scope:hover a,h2{color:red}', '[data-s~="s1"]:hover a,[data-s~="s1"] h2{color:red}'],
    ['> p{margin:0}', '[data-s~="s1"]>p{margin:0}'],
    ['@media (max-width:40rem){a{color:red}}', '@media (max-width:40rem){[data-s~="s1"] a{color:red}}'],
    ['a{&:hover{color:red}}', '[data-s~="s1"] a{&:hover{color:red}}'],
    ['body{color:red}', '[data-s~="s1"] body{color:red}'],
    ['li + li{margin:0}', '[data-s~="s1"] li+li{margin:0}'],
    ['a:scope{color:red}', 'a[data-s~="s1"]{color:red}'],
    [':scope > .a ~ .b{color:red}', '[data-s~="s1"]>.a~.b{color:red}'],
    [':scope:not(.x){color:red}', '[data-s~="s1"]:not(.x){color:red}'],
    ['a{& + b{color:red}}', '[data-s~="s1"] a{&+b{color:red}}'],
    [':scope{& > b{color:red}}', '[data-s~="s1"]{&>b{color:red}}'],
    ['a{background:image-set("/look/a.svg" 1x)}', '[data-s~="s1"] a{background:image-set("/look/a.svg"1x)}'],
    ['a{color:red', '[data-s~="s1"] a{color:red}'],
    [':scope:scope b{color:red}', '[data-s~="s1"] b{color:red}'],
    [':is(a){color:red}', '[data-s~="s1"] :is(a){color:red}'],
    ['a{position: sticky }', '[data-s~="s1"] a{position:sticky}'],
    ['a{width:calc(var(--x))}', '[data-s~="s1"] a{width:calc(var(--x))}'],
    ['a{content:"https://elsewhere.example"}', '[data-s~="s1"] a{content:"https://elsewhere.example"}'],
    ['a{background:url(data:image/png;base64,AA)}', '[data-s~="s1"] a{background:url(data:image/png;base64,AA)}'],
    ['@media print{a{animation:print 1s}}', '@media print{[data-s~="s1"] a{animation:print 1s}}'],
    ['@keyframes{to{opacity:0}}', '@keyframes{to{opacity:0}}'],
    ['', ''],
    ['a{--x:red;color:var(--x)}', '[data-s~="s1"] a{--x:red;color:var(--x)}'],
  ])('%s touches only its own parts', (css, result) => {
    expect(scoped(css)).toEqual({ css: result, faults: [] })
  })

  test.each([
    ['animation:glow 2s', 'animation:s1-glow 2s'],
    ['animation-name:glow,other', 'animation-name:s1-glow,other'],
    ['-webkit-animation:glow 1s', '-webkit-animation:s1-glow 1s'],
    ['font-family:glow', 'font-family:glow'],
    ['--animation:glow', '--animation:glow'],
  ])('names its animations, and nothing else, for itself: %s', (declaration, named) => {
    expect(scoped(`a{${declaration}}@keyframes glow{to{opacity:0}}`).css).toBe(
      `[data-s~="s1"] a{${named}}@keyframes s1-glow{to{opacity:0}}`,
    )
  })

  test('every fault has its own place, and what is only spaces between rules is none', () => {
    expect(scoped('a{color:red}\n  b{colour:red}\n').faults).toEqual([
      { message: 'There is no property “colour”.', line: 2, column: 5 },
    ])
    expect(scoped('x').faults).toEqual([
      { message: '"{" is expected.', line: 1, column: 2 },
      { message: 'This is no rule that can be read.', line: 1, column: 1 },
    ])
  })

  test.each([
    [':scope + p{color:red}', 'stands beside', 1],
    [':scope:not(.x) ~ *{display:none}', 'stands beside', 1],
    [':scope:hover + .b{color:red}', 'stands beside', 1],
    [':scope:is(a, b).c ~ .b > i{color:red}', 'stands beside', 1],
    [':s\\63 ope + p{color:red}', 'stands beside', 1],
    ['+ p{color:red}', 'stands beside', 1],
    ['&.big + .b{color:red}', 'stands beside', 1],
    [':scope{&.big + .b{color:red}}', 'stands beside', 1],
    [':scope{@media print{&.big ~ .b{color:red}}}', 'stands beside', 1],
    [':scope{~ .b{color:red}}', 'Identifier is expected.', 1],
    ['a, :scope{& + .b{color:red}}', 'stands beside', 1],
    ['a{&:not(&){color:red}}', 'in brackets', 1],
    ['a{&:has(& b){color:red}}', 'in brackets', 1],
    ['a{:not(&){color:red}}', 'Identifier is expected.', 1],
    ['a{& & {color:red}}', 'at the beginning', 1],
    ['a{.x &{color:red}}', 'Identifier is expected.', 1],
    ['.x :scope{color:red}', 'at the beginning', 1],
    ['a || b{color:red}', 'asterisk is expected.', 1],
    ['a{position:FIXED}', 'position', 1],
    ['a{posi\\74ion:f\\69xed}', 'position', 1],
    ['a{position:var(--p)}', 'position', 1],
    ['@keyframes k{to{position:fixed}}', 'position', 1],
    ['a{background:image-set("https://evil.example/x" 1x)}', 'pictures of this site', 1],
    ['a{background:-webkit-IMAGE-SET("//evil.example/x" 1x)}', 'pictures of this site', 1],
    ['a{--x:url(https://evil.example/x);background:var(--x)}', 'pictures of this site', 1],
    ['a{--x:"https://evil.example/x";background:image-set(var(--x) 1x)}', 'picture itself', 1],
    ['a{background:url(/media/../out?to=x)}', 'pictures of this site', 1],
    ['@IMPORT "x.css";', '@IMPORT', 1],
    ['a{\n  color: rde;\n}', 'no value for “color”', 2],
    ['a{\n\n  colour: red;\n}', 'no property “colour”', 3],
    ['a{position:fixed}', 'fixed position', 1],
    ['@import "x.css";', '@import', 1],
    ['@font-face{font-family:x}', '@font-face', 1],
    ['a{background:url(https://evil.example/x.png)}', 'pictures of this site', 1],
    ['a{color:red}\n\n  ]{}', 'Selector is expected.', 3],
    ['a{color:red}\n  a{&:scope{color:red}}', 'Inside another rule, write “&”', 2],
    ['.a\n .x :scope{color:red}', 'at the beginning', 2],
    ['a{background:url(https://evil.example/media/x.png)}', 'pictures of this site', 1],
    ['a{background:url("/media/a.png?to=https://evil.example")}', 'pictures of this site', 1],
    ['a{background:url("x data:image/png;base64,AA")}', 'pictures of this site', 1],
    ['a{background:cross-fade(var(--x),url(/media/a.png))}', 'picture itself', 1],
    ['a{;color:red}', 'no rule that can be read', 1],
  ])('%s is refused with its line', (css, words, line) => {
    const { faults, css: result } = scoped(css)
    expect(faults[0]).toMatchObject({ message: expect.stringContaining(words), line })
    expect(result).toBe('')
  })
})
