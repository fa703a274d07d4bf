export const statuses = ['draft', 'running', 'paused', 'ended', 'settled'] as const
export type Status = (typeof statuses)[number]

export const commands = ['start', 'pause', 'goOn', 'end', 'settle', 'undo'] as const
export type Command = (typeof commands)[number]

/** status -> command -> next status. A command that is not listed cannot be given there. */
export const transitions: { readonly [From in Status]: { readonly [Given in Command]?: Status } } = {
  draft: { start: 'running' },
  running: { pause: 'paused', end: 'ended', settle: 'settled' },
  paused: { goOn: 'running', end: 'ended', settle: 'settled' },
  ended: { settle: 'settled' },
  settled: { undo: 'ended' },
}

export function next(status: Status, command: Command): Status | null {
  return transitions[status][command] ?? null
}

/** The design may be changed while nobody is being drawn by it. Changes while paused open the next round. */
export function isOpenToChange(status: Status): boolean {
  return status === 'draft' || status === 'paused'
}
