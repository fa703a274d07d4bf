import { parse, type ParseError } from 'jsonc-parser'
import { FileFault } from './fault'

/** @throws {FileFault} where it is no JSON, with the place */
export function parseJson(written: string): unknown {
  // Some programs put a byte-order mark before it.
  const text = written.replace(/^\uFEFF/, '')
  try {
    return JSON.parse(text)
  } catch {
    // The engine does not say where; this parser does.
    const faults: ParseError[] = []
    parse(text, faults, { disallowComments: true, allowEmptyContent: false })
    const before = text.slice(0, faults[0]?.offset ?? 0).split('\n')
    throw new FileFault('This is no JSON from here on.', before.length, (before.at(-1)?.length ?? 0) + 1)
  }
}
