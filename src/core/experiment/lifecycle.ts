export const statuses = ['draft', 'scheduled', 'running', 'paused', 'ended', 'settled'] as const
export type Status = (typeof statuses)[number]

/** As people say it. */
export const statusWords: { readonly [Of in Status]: string } = {
  draft: 'draft',
  scheduled: 'waits for its start',
  running: 'running',
  paused: 'paused',
  ended: 'ended, not decided',
  settled: 'settled',
}

export const commands = ['schedule', 'unschedule', 'start', 'pause', 'goOn', 'end', 'settle', 'undo', 'again'] as const
export type Command = (typeof commands)[number]

/** status -> command -> next status. A command that is not listed cannot be given there. */
export const transitions: { readonly [From in Status]: { readonly [Given in Command]?: Status } } = {
  draft: { start: 'running', schedule: 'scheduled' },
  /** Waits for its time; whoever wants to change it makes it a draft again. */
  scheduled: { start: 'running', unschedule: 'draft' },
  running: { pause: 'paused', end: 'ended', settle: 'settled' },
  paused: { goOn: 'running', end: 'ended', settle: 'settled' },
  ended: { settle: 'settled', again: 'draft' },
  settled: { undo: 'ended', again: 'draft' },
}

export function next(status: Status, command: Command): Status | null {
  return transitions[status][command] ?? null
}

/** The design may be changed while nobody is being drawn by it. Changes while paused open the next round. */
export function isOpenToChange(status: Status): boolean {
  return status === 'draft' || status === 'paused'
}
