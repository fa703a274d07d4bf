import type { Fault } from '@/contract/contract'

/** Something an editor can understand and act on: what happened, where, what to do. Anything else stays on the server. */
export class Failure extends Error {
  /** @param retryAfter seconds after which the same may be tried again, where time is what it needs */
  constructor(
    readonly code: Fault['code'],
    message: string,
    readonly retryAfter: number | null = null,
  ) {
    super(message)
  }
}

/** How each kind of refusal is said over HTTP. */
export const statuses: { readonly [Code in Fault['code']]: number } = {
  input: 400,
  signIn: 401,
  role: 403,
  missing: 404,
  conflict: 409,
  blocked: 422,
  busy: 429,
  broken: 500,
}

export function missing(what: string): Failure {
  return new Failure('missing', `${what} is not there any more. Go back to the list and choose again.`)
}
