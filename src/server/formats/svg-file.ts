import sanitizeHtml from 'sanitize-html'
import { SaxesParser } from 'saxes'
import { Failure } from '../failure'

export const SVG_LIMIT = 1_000_000

/** Of SVG 2 what draws: nothing that runs, moves, is a page of its own, or fetches. */
const elements = `svg g defs symbol use title desc path rect circle ellipse line polyline polygon text tspan textPath
  linearGradient radialGradient stop clipPath mask pattern marker filter style switch feBlend feColorMatrix
  feComponentTransfer feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap feDistantLight feDropShadow feFlood
  feFuncA feFuncB feFuncG feFuncR feGaussianBlur feMerge feMergeNode feMorphology feOffset fePointLight
  feSpecularLighting feSpotLight feTile feTurbulence`.split(/\s+/)

const attributes = `xmlns xmlns:xlink xml:space xml:lang lang version id class style href xlink:href viewBox
  preserveAspectRatio width height x y x1 y1 x2 y2 cx cy r rx ry fx fy fr d points pathLength transform
  gradientUnits gradientTransform spreadMethod offset clipPathUnits maskUnits maskContentUnits patternUnits
  patternContentUnits patternTransform markerUnits markerWidth markerHeight refX refY orient filterUnits primitiveUnits
  in in2 result mode type values tableValues slope intercept amplitude exponent operator k1 k2 k3 k4 order kernelMatrix
  divisor bias targetX targetY edgeMode preserveAlpha surfaceScale diffuseConstant specularConstant specularExponent
  scale xChannelSelector yChannelSelector azimuth elevation stdDeviation radius dx dy rotate textLength lengthAdjust
  startOffset method spacing baseFrequency numOctaves seed stitchTiles z limitingConeAngle pointsAtX pointsAtY
  pointsAtZ systemLanguage role aria-label aria-labelledby aria-hidden
  alignment-baseline baseline-shift clip-path clip-rule color color-interpolation color-interpolation-filters cursor
  direction display dominant-baseline fill fill-opacity fill-rule filter flood-color flood-opacity font-family
  font-size font-stretch font-style font-variant font-weight isolation letter-spacing lighting-color marker-end
  marker-mid marker-start mask mix-blend-mode opacity overflow paint-order pointer-events shape-rendering stop-color
  stop-opacity stroke stroke-dasharray stroke-dashoffset stroke-linecap stroke-linejoin stroke-miterlimit
  stroke-opacity stroke-width text-anchor text-decoration text-rendering transform-origin unicode-bidi vector-effect
  visibility word-spacing writing-mode`.split(/\s+/)

/** Names what is in the drawing itself, or nothing. */
const isWithin = (value: string) => !/url\(\s*['"]?\s*(?!['"]?#)/i.test(value) && !/@import|expression\s*\(|\\/i.test(value)

const once = (text: string) =>
  sanitizeHtml(text, {
    allowedTags: elements,
    allowedAttributes: { '*': attributes },
    allowVulnerableTags: true,
    // Only places in the drawing itself are followed.
    allowedSchemesAppliedToAttributes: [],
    parseStyleAttributes: false,
    parser: { xmlMode: true },
    selfClosing: [],
    transformTags: {
      '*': (tagName, attribs) => ({
        tagName,
        attribs: Object.fromEntries(
          Object.entries(attribs).filter(([name, value]) => (/(^|:)href$/.test(name) ? value.startsWith('#') : isWithin(value))),
        ),
      }),
    },
    // Rules that fetch are no part of a drawing.
    exclusiveFilter: ({ tag, text: rules }) => tag === 'style' && !isWithin(rules),
  }).trim()

/**
 * A drawing (SVG) without anything in it that runs or fetches, cleaned until cleaning changes nothing more.
 *
 * @throws {Failure} where it is no drawing, or cannot be made safe
 */
export function cleanSvg(text: string): string {
  // Entities that a document declares for itself go before anything could read them.
  let clean = once(text.replace(/^\uFEFF/, '').replace(/<!DOCTYPE[^[>]*(\[[^\]]*\])?\s*>/i, ''))
  for (let turn = 0; ; turn++) {
    const again = once(clean)
    if (again === clean) break
    if (turn > 4) throw new Failure('input', 'This drawing cannot be made safe to show. Save it anew as a plain SVG.')
    clean = again
  }
  if (!clean.startsWith('<svg')) throw new Failure('input', 'This file holds no SVG drawing.')
  if (!/^<svg[^>]*\sxmlns=/.test(clean)) clean = clean.replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"')
  let fault: string | null = null
  const reader = new SaxesParser({ xmlns: true })
  reader.on('error', (reason) => (fault ??= reason.message))
  reader.write(clean).close()
  if (fault !== null) throw new Failure('input', `This drawing is damaged: ${String(fault)}.`)
  return clean
}
