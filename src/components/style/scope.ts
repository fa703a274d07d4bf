import * as csstree from 'css-tree'

/** Something in a style that cannot stand, with its place: lines and columns count from one. */
export interface StyleFault {
  readonly message: string
  readonly line: number
  readonly column: number
}

export interface ScopedStyle {
  /** Rules that touch nothing outside the elements marked with this style; empty where there is a fault. */
  readonly css: string
  readonly faults: readonly StyleFault[]
}

const groups = new Set(['media', 'supports', 'container', 'keyframes'])

/**
 * Rules confined to the parts that carry `data-s~="id"`. A selector stands for what is inside such a part; `:scope`, or
 * `&`, is the part itself. Decided on the parsed selector (CSS Syntax Level 3, Selectors Level 4): what its subject can
 * be, compound by compound, must be the part or something in it. What would reach outside is a fault: siblings of the
 * part, fixed positions, imports, typefaces, layers, addresses elsewhere.
 */
export function scopeStyle(css: string, id: string): ScopedStyle {
  const faults: StyleFault[] = []
  const fault: Report = (message, at) => {
    const start = at?.loc?.start ?? { line: 1, column: 1 }
    faults.push({ message, line: start.line, column: start.column })
  }
  const sheet = csstree.parse(css, {
    positions: true,
    parseCustomProperty: true,
    onParseError: ({ message, line, column }) => faults.push({ message: `${message}.`, line, column }),
  })
  if (sheet.type !== 'StyleSheet') return { css: '', faults: [{ message: 'These are no rules.', line: 1, column: 1 }] }

  const names = animationsIn(sheet, fault)
  csstree.walk(sheet, { visit: 'Declaration', enter: (declaration) => checkDeclaration(declaration, { id, names }, fault) })
  csstree.walk(sheet, { visit: 'Url', enter: (url) => checkAddress(url.value, url, fault) })
  csstree.walk(sheet, { visit: 'Raw', enter: (raw) => checkRaw(raw, fault) })
  scopeRules(sheet.children, id, null, fault)
  csstree.walk(sheet, {
    visit: 'Atrule',
    enter(rule) {
      if (!isKeyframes(rule) || rule.prelude === null) return
      rule.prelude = { type: 'Raw', value: `${id}-${csstree.generate(rule.prelude)}` }
    },
  })
  return { css: faults.length > 0 ? '' : csstree.generate(sheet), faults }
}

type Report = (message: string, at: csstree.CssNode | null) => void

const isKeyframes = (rule: csstree.Atrule) => rule.name.toLowerCase() === 'keyframes'

/** The names of its animations; what is no group of rules is refused on the way. */
function animationsIn(sheet: csstree.StyleSheet, fault: Report): Set<string> {
  const names = new Set<string>()
  csstree.walk(sheet, {
    visit: 'Atrule',
    enter(rule) {
      if (!groups.has(rule.name.toLowerCase())) fault(`“@${rule.name}” would reach beyond this part. Leave it out.`, rule)
      if (isKeyframes(rule) && rule.prelude !== null) names.add(csstree.generate(rule.prelude))
    },
  })
  return names
}

/** What an element that a selector is about can be: the part itself, or something in it. */
type Subject = 'self' | 'inside'

/** @param parent what `&` can be, in a rule that stands in another */
function scopeRules(
  children: csstree.List<csstree.CssNode>,
  id: string,
  parent: ReadonlySet<Subject> | null,
  fault: Report,
): void {
  children.forEach((node) => {
    if (node.type === 'Atrule' && !isKeyframes(node) && node.block !== null) scopeRules(node.block.children, id, parent, fault)
    if (node.type !== 'Rule') return
    const subjects = new Set<Subject>()
    if (node.prelude.type === 'SelectorList')
      node.prelude.children.forEach((selector) => {
        if (selector.type === 'Selector') subjects.add(scopeSelector(selector, id, parent, fault))
      })
    scopeRules(node.block.children, id, subjects, fault)
  })
}

interface Compound {
  /** What stands before it; `null` for the first. */
  readonly combinator: csstree.Combinator | null
  readonly parts: csstree.CssNode[]
}

function compoundsOf(selector: csstree.Selector): Compound[] {
  const compounds: Compound[] = []
  selector.children.forEach((node) => {
    if (node.type === 'Combinator') compounds.push({ combinator: node, parts: [] })
    else if (compounds.length === 0) compounds.push({ combinator: null, parts: [node] })
    else compounds.at(-1)?.parts.push(node)
  })
  return compounds
}

/** Confines a selector. @returns what its subject can be */
function scopeSelector(selector: csstree.Selector, id: string, parent: ReadonlySet<Subject> | null, fault: Report): Subject {
  const outer: Subject = parent === null || parent.has('self') ? 'self' : 'inside'
  const compounds = compoundsOf(selector)
  const [first] = compounds
  let subject: Subject = 'inside'
  for (const compound of compounds) {
    const { combinator, parts } = compound
    for (const part of parts) refuseHidden(part, fault)
    const selves = parts.filter(isSelf)
    if (selves.length > 0 && compound !== first) fault('“&” and “:scope” can only stand at the beginning.', selves[0] ?? null)
    if (parent !== null && selves.some(({ type }) => type !== 'NestingSelector'))
      fault('Inside another rule, write “&” instead of “:scope”.', selves[0] ?? null)
    if (combinator === null) subject = selves.length > 0 ? outer : 'inside'
    else subject = after(compound === first ? outer : subject, combinator, fault)
  }
  if (parent === null) confine(selector, id)
  return subject
}

/** What can stand behind a combinator, if what stands before it is this. */
function after(before: Subject, combinator: csstree.Combinator, fault: Report): Subject {
  switch (combinator.name) {
    case ' ':
    case '>':
      return 'inside'
    case '+':
    case '~':
      if (before === 'self')
        fault(`“${combinator.name}” would reach what stands beside this part. Name something inside it.`, combinator)
      return 'inside'
    default:
      fault(`“${combinator.name}” cannot be used here.`, combinator)
      return 'inside'
  }
}

/** In brackets, “&” would make a selector about anything at all: `:not(&)`, `:has(&)`. */
function refuseHidden(part: csstree.CssNode, fault: Report): void {
  if (part.type === 'NestingSelector') return
  csstree.walk(part, {
    visit: 'NestingSelector',
    enter: (node) => fault('“&” cannot stand in brackets.', node),
  })
}

/** Puts the mark of the part where it is named, or before everything else. */
function confine(selector: csstree.Selector, id: string): void {
  let named = false
  selector.children.forEach((node, item, list) => {
    if (!isSelf(node)) return
    if (named) list.remove(item)
    else list.replace(item, itemOf(scopeOf(id)))
    named = true
  })
  if (named) return
  if (selector.children.first?.type !== 'Combinator') selector.children.prepend(itemOf({ type: 'Combinator', name: ' ' }))
  selector.children.prepend(itemOf(scopeOf(id)))
}

function isSelf(node: csstree.CssNode): boolean {
  return node.type === 'NestingSelector' || (node.type === 'PseudoClassSelector' && nameOf(node.name) === 'scope')
}

function scopeOf(id: string): csstree.CssNode {
  return {
    type: 'AttributeSelector',
    name: { type: 'Identifier', name: 'data-s' },
    matcher: '~=',
    value: { type: 'String', value: id },
    flags: null,
  }
}

function itemOf(node: csstree.CssNode): csstree.ListItem<csstree.CssNode> {
  return csstree.List.createItem(node)
}

/** As a browser reads a name: without regard to case, escapes resolved (CSS Syntax Level 3, 4.3.7). */
function nameOf(name: string): string {
  return csstree.ident.decode(name).toLowerCase()
}

const positions = new Set([
  'static',
  'relative',
  'absolute',
  'sticky',
  '-webkit-sticky',
  'initial',
  'inherit',
  'unset',
  'revert',
  'revert-layer',
])

function checkDeclaration(
  declaration: csstree.Declaration,
  around: { id: string; names: ReadonlySet<string> },
  fault: Report,
): void {
  const property = nameOf(declaration.property)
  if (property === 'position' && !positions.has(nameOf(csstree.generate(declaration.value).trim())))
    fault('A fixed position would lie over the rest of the page. Use “sticky” or “relative”.', declaration)
  csstree.walk(declaration.value, { visit: 'Function', enter: (node) => checkFunction(node, fault) })
  checkValue(declaration, fault)
  if (/^(-\w+-)?animation(-name)?$/.test(property)) renameAnimations(declaration, around.names, around.id)
}

/** Functions that load what they name, also as a plain text (CSS Images Level 4, CSS Values Level 5). */
const loading = new Set(['image-set', '-webkit-image-set', 'image', 'src', 'url', 'cross-fade', '-webkit-cross-fade'])

function checkFunction(node: csstree.FunctionNode, fault: Report): void {
  if (!loading.has(nameOf(node.name))) return
  csstree.walk(node, (inner) => {
    if (inner.type === 'String') checkAddress(inner.value, inner, fault)
    if (inner !== node && inner.type === 'Function' && ['var', 'attr', 'env'].includes(nameOf(inner.name)))
      fault('Write the address of the picture itself here.', inner)
  })
}

/** What the parser could not read, a browser might. */
function checkRaw(raw: csstree.Raw, fault: Report): void {
  if (raw.value.trim() !== '') fault('This is no rule that can be read.', raw)
}

/** Values by the grammars of the CSS specifications, as far as css-tree knows the property. */
function checkValue(declaration: csstree.Declaration, fault: Report): void {
  if (declaration.property.startsWith('--') || declaration.value.type === 'Raw') return
  const { error } = csstree.lexer.matchProperty(declaration.property, declaration.value)
  // What stands in a variable is read where that is set; only what loads or places must be written out.
  if (error === null || !('message' in error) || /var\(\)/.test(error.message)) return
  const unknown = /unknown property/i.test(error.message)
  fault(
    unknown
      ? `There is no property “${declaration.property}”.`
      : `“${csstree.generate(declaration.value)}” is no value for “${declaration.property}”.`,
    declaration,
  )
}

function checkAddress(address: string, at: csstree.CssNode, fault: Report): void {
  const own = /^\/(media|look)\/[\w./-]+$/.test(address) && !address.includes('..')
  if (!own && !/^data:image\//.test(address)) fault('Only pictures of this site can be used: “/media/…”.', at)
}

/** An animation is known on the whole page by its name, so it gets a name of its own. */
function renameAnimations(declaration: csstree.Declaration, names: ReadonlySet<string>, id: string): void {
  csstree.walk(declaration.value, {
    visit: 'Identifier',
    enter(identifier) {
      if (names.has(identifier.name)) identifier.name = `${id}-${identifier.name}`
    },
  })
}
