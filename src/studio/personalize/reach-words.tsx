import type { RuledPart } from '@/contract/contract'
import { roughPercent } from '@/core/numbers'

/** Who is shown the version of a rule, of those who came lately. */
export function ReachWords({ reach }: { reach: RuledPart['rules'][number]['reach'] }) {
  switch (reach.kind) {
    case 'never':
      return (
        <span className="fault">
          {reach.because === 'above' ? 'Never shown: a rule above it takes all whom it fits.' : 'Never shown: it fits nobody.'}
        </span>
      )
    case 'unknown':
      return <span className="quiet">number not known</span>
    case 'share': {
      const taken = reach.fitting - reach.shown
      if (reach.shown === 0)
        return <span className="quiet">{taken > 0 ? 'none left: rules above it take all whom it fits' : 'none lately'}</span>
      return (
        <span className="quiet">
          about {roughPercent(reach.shown / reach.of)}
          {taken > 0 ? `; ${roughPercent(taken / reach.of)} more are taken by rules above` : ''}
        </span>
      )
    }
    default:
      return reach satisfies never
  }
}
