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
    ['a{--x:red;color:var(--x)}', '[data-s~="s1"] a{--x:red;color:var(--x)}'],
  ])('%s touches only its own parts', (css, result) => {
    expect(scoped(css)).toEqual({ css: result, faults: [] })
  })

  test('names its animations for itself', () => {
    expect(scoped('a{animation:glow 2s}@keyframes glow{to{opacity:0}}').css).toBe(
      '[data-s~="s1"] a{animation:s1-glow 2s}@keyframes s1-glow{to{opacity:0}}',
    )
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
    [':scope{~ .b{color:red}}', '', 1],
    ['a, :scope{& + .b{color:red}}', 'stands beside', 1],
    ['a{&:not(&){color:red}}', 'in brackets', 1],
    ['a{&:has(& b){color:red}}', 'in brackets', 1],
    ['a{:not(&){color:red}}', '', 1],
    ['a{& & {color:red}}', 'at the beginning', 1],
    ['a{.x &{color:red}}', '', 1],
    ['.x :scope{color:red}', 'at the beginning', 1],
    ['a || b{color:red}', '', 1],
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
    ['a{color:red', '', 1],
  ])('%s is refused with its line', (css, words, line) => {
    const { faults, css: result } = scoped(css)
    if (words === '') return expect(faults.length + result.length).toBeGreaterThan(0)
    expect(faults[0]).toMatchObject({ message: expect.stringContaining(words), line })
    expect(result).toBe('')
  })
})
