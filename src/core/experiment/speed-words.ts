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
  paint: (variant, original) => `takes ${variant} or more until the page is painted, where the original takes ${original}`,
  response: (variant, original) => `takes ${variant} or more to answer a press, where the original takes ${original}`,
  shift: (variant, original) => `moves about by ${variant} or more while it loads, where the original moves by ${original}`,
}

/** What is said of variants that are slower than the original (`behaviourOf`), whatever they win. */
export function slowerWords({ versions, slower }: Behaviour, names: Names): { version: VersionId; words: string }[] {
  const at = (version: VersionId, speed: Speed) =>
    versions.find((one) => one.version === version)?.speed[speed].slowest?.value ?? 0
  return slower.map(({ version, speed }) => {
    const [own, original] = [at(version, speed), at(ORIGINAL, speed)].map((value) => speedWords(speed, value)) as [string, string]
    return {
      version,
      words: `‘${names.version(version)}’ is slower: for one visitor in four it ${whatTakes[speed](own, original)}.`,
    }
  })
}
