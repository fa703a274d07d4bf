import { isbot } from 'isbot'
import type { Device } from '@/core/decide'

interface Agent {
  readonly isBot: boolean
  readonly device: Device
}

/** The patterns are long and few agents make most requests: answers are kept for as many as fit in a megabyte or so. */
const judged = new Map<string, Agent>()
export function agentOf(text: string): Agent {
  const before = judged.get(text)
  if (before !== undefined) return before
  const answer = { isBot: text === '' || isbot(text), device: deviceOf(text) }
  if (judged.size > 5000) judged.clear()
  if (text.length < 400) judged.set(text, answer)
  return answer
}

function deviceOf(agent: string): Device {
  if (/iPad|Tablet|PlayBook|Silk(?!.*Mobile)|Android(?!.*Mobile)/i.test(agent)) return 'tablet'
  return /Mobi|iPhone|iPod|Android/i.test(agent) ? 'phone' : 'computer'
}

export const isBotAgent = (agent: string): boolean => agentOf(agent).isBot
