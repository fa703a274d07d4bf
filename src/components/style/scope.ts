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
 * `&`, is the part itself. Parsed by css-tree (CSS Syntax Level 3). What would reach outside is a fault: sibling
 * combinators from the part, fixed positions, imports, typefaces, layers, addresses elsewhere.
 */
export function scopeStyle(css: string, id: string): ScopedStyle {
  const faults: StyleFault[] = []
  const fault = (message: string, at: csstree.CssNode | null) => {
    const start = at?.loc?.start ?? { line: 1, column: 1 }
    faults.push({ message, line: start.line, column: start.column })
  }
  const sheet = csstree.parse(css, {
    positions: true,
    parseCustomProperty: false,
    onParseError: ({ message, line, column }) => faults.push({ message: `${message}.`, line, column }),
  })
  if (sheet.type !== 'StyleSheet') return { css: '', faults: [{ message: 'These are no rules.', line: 1, column: 1 }] }

  const names = new Set<string>()
  csstree.walk(sheet, {
    visit: 'Atrule',
    enter(rule) {
      if (!groups.has(rule.name)) fault(`“@${rule.name}” would reach beyond this part. Leave it out.`, rule)
      if (rule.name === 'keyframes' && rule.prelude !== null) names.add(csstree.generate(rule.prelude))
    },
  })
  csstree.walk(sheet, {
    visit: 'Declaration',
    enter(declaration) {
      const value = csstree.generate(declaration.value)
      if (declaration.property === 'position' && /fixed/.test(value))
        fault('A fixed position would lie over the rest of the page. Use “sticky” or “relative”.', declaration)
      checkValue(declaration, fault)
      if (/^(-\w+-)?animation(-name)?$/.test(declaration.property)) renameAnimations(declaration, names, id)
    },
  })
  csstree.walk(sheet, { visit: 'Url', enter: (url) => checkAddress(url.value, url, fault) })
  scopeRules(sheet.children, id, false, fault)
  csstree.walk(sheet, {
    visit: 'Atrule',
    enter(rule) {
      if (rule.name !== 'keyframes' || rule.prelude === null) return
      rule.prelude = { type: 'Raw', value: `${id}-${csstree.generate(rule.prelude)}` }
    },
  })
  return { css: faults.length > 0 ? '' : csstree.generate(sheet), faults }
}

type Report = (message: string, at: csstree.CssNode | null) => void

function scopeRules(children: csstree.List<csstree.CssNode>, id: string, nested: boolean, fault: Report): void {
  children.forEach((node) => {
    if (node.type === 'Atrule' && node.name !== 'keyframes' && node.block !== null)
      scopeRules(node.block.children, id, nested, fault)
    if (node.type === 'Raw') fault('This is not a rule: a selector and braces are missing.', node)
    if (node.type !== 'Rule') return
    if (node.prelude.type === 'SelectorList')
      node.prelude.children.forEach((selector) => selector.type === 'Selector' && scopeSelector(selector, id, nested, fault))
    scopeRules(node.block.children, id, true, fault)
  })
}

/** A nested selector is relative to one that is scoped already, as long as it does not leave by a sibling. */
function scopeSelector(selector: csstree.Selector, id: string, nested: boolean, fault: Report): void {
  const first = selector.children.first
  if (first === null) return
  let inside = false
  selector.children.forEach((node) => {
    if (node.type === 'Combinator' && (node.name === '+' || node.name === '~') && !inside)
      fault(`“${node.name}” would reach what stands beside this part. Name something inside it.`, node)
    if (node.type === 'Combinator' && (node.name === ' ' || node.name === '>')) inside = true
    if (!isSelf(node) && node.type !== 'Combinator' && node !== first) inside = true
    if (!isSelf(node) && node === first && node.type !== 'Combinator') inside = true
  })
  if (isSelf(first)) {
    if (nested) return
    selector.children.shift()
    selector.children.prepend(itemOf(scopeOf(id)))
    return
  }
  if (nested) return
  if (first.type !== 'Combinator') selector.children.prepend(itemOf({ type: 'Combinator', name: ' ' }))
  selector.children.prepend(itemOf(scopeOf(id)))
}

function isSelf(node: csstree.CssNode): boolean {
  return node.type === 'NestingSelector' || (node.type === 'PseudoClassSelector' && node.name === 'scope')
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

/** Values by the grammars of the CSS specifications, as far as css-tree knows the property. */
function checkValue(declaration: csstree.Declaration, fault: Report): void {
  if (declaration.property.startsWith('--') || declaration.value.type === 'Raw') return
  const { error } = csstree.lexer.matchProperty(declaration.property, declaration.value)
  if (error === null || !('message' in error)) return
  const unknown = /unknown property/i.test(error.message)
  fault(
    unknown
      ? `There is no property “${declaration.property}”.`
      : `“${csstree.generate(declaration.value)}” is no value for “${declaration.property}”.`,
    declaration,
  )
}

function checkAddress(address: string, at: csstree.CssNode, fault: Report): void {
  if (!/^(\/media\/|\/look\/|data:image\/)/.test(address)) fault('Only pictures of this site can be used: “/media/…”.', at)
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
