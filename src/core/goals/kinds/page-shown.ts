import type { Happening } from '../../events'
import type { Whereabouts } from './kind'

export function pageShown({ document, path, pageType }: Whereabouts): Extract<Happening, { kind: 'page' }> {
  return { kind: 'page', document, path, pageType, arrival: null }
}
