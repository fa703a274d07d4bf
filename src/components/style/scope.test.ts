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
    ['a{\n  color: rde;\n}', 'no value for “color”', 2],
    ['a{\n\n  colour: red;\n}', 'no property “colour”', 3],
    ['a{position:fixed}', 'fixed position', 1],
    ['@import "x.css";', '@import', 1],
    ['@font-face{font-family:x}', '@font-face', 1],
    ['a{background:url(https://evil.example/x.png)}', 'pictures of this site', 1],
    ['a{color:red', '', 1],
  ])('%s is refused with its line', (css, words, line) => {
    const { faults, css: result } = scoped(css)
    if (words === '') return expect(scoped('a{color:red').faults.length + result.length).toBeGreaterThan(0)
    expect(faults[0]).toMatchObject({ message: expect.stringContaining(words), line })
    expect(result).toBe('')
  })
})
