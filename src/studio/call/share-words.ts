import { percent } from '@/core/experiment'

/** Click-through, or a dash where nobody has seen it. */
export function shareWords(part: number, whole: number): string {
  return whole === 0 ? '–' : percent(part / whole)
}
