import type { Speed } from '../ledger'
import type { Behaviour } from './behaviour'
import type { Names } from './names'
import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'

/** “1.9 s”, “140 ms”, “0.05”: as exact as a measure in many browsers is. */
export function speedWords(speed: Speed, value: number): string {
  if (speed === 'shift') return value.toFixed(2)
  if (value >= 950) return `${(value / 1000).toFixed(1)} s`
  return `${value < 100 ? Math.round(value) : Math.round(value / 10) * 10} ms`
}

const whatTakes: { readonly [Of in Speed]: (variant: string, original: string) => string } = {
  paint: (variant, original) => `${variant} or more until the page is painted, where the original takes ${original}`,
  response: (variant, original) => `${variant} or more until a press is answered, where the original takes ${original}`,
  shift: (variant, original) => `shifts of ${variant} or more while the page loads, where the original has ${original}`,
}

/** What is said of variants that are slower than the original (`behaviourOf`), whatever they win; those alike together. */
export function slowerWords({ versions, slower }: Behaviour, names: Names): { versions: VersionId[]; words: string }[] {
  const at = (version: VersionId, speed: Speed) =>
    versions.find((one) => one.version === version)?.speed[speed].slowest?.value ?? 0
  const alike = new Map<string, VersionId[]>()
  for (const { version, speed } of slower) {
    const [own, original] = [at(version, speed), at(ORIGINAL, speed)].map((value) => speedWords(speed, value)) as [string, string]
    const takes = whatTakes[speed](own, original)
    alike.set(takes, [...(alike.get(takes) ?? []), version])
  }
  return [...alike].map(([takes, of]) => {
    const named = of.map((version) => `‘${names.version(version)}’`)
    const who = named.length === 1 ? `${named[0] ?? ''} is` : `${named.slice(0, -1).join(', ')} and ${named.at(-1) ?? ''} are`
    return {
      versions: of,
      words: `${who} slower: for one visitor in four it takes ${takes}.`.replace('it takes shifts', 'there are shifts'),
    }
  })
}
