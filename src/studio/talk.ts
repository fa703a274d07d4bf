'use client'

import { keepPreviousData, useMutation, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query'
import { contract, faultSchema, type ActionName, type Fault, type Input, type Output } from '@/contract/contract'

/** What the server would not do, in words that can be shown as they are. */
export class Refused extends Error {
  constructor(
    readonly code: Fault['code'] | 'away',
    message: string,
  ) {
    super(message)
  }
}

/** Whether the same may well be taken a moment later: nothing is wrong with what was sent. */
export function isWaitedFor({ code }: Refused): boolean {
  return code === 'away' || code === 'broken' || code === 'busy'
}

/** Asks the server for one action of the contract. @throws {Refused} */
export async function talk<Name extends ActionName>(name: Name, input: Input<Name>): Promise<Output<Name>> {
  const answer = await fetch(`/api/${name}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(input),
  }).catch(() => {
    throw new Refused(
      'away',
      'The studio’s server does not answer. What you typed is kept in this browser, and sent again by itself.',
    )
  })
  const body: unknown = await answer.json().catch(() => null)
  if (!answer.ok) {
    const fault = faultSchema.safeParse(body)
    throw new Refused(
      fault.success ? fault.data.code : 'broken',
      fault.success ? fault.data.fault : 'Something went wrong on the server. Nothing was changed.',
    )
  }
  return contract[name].output.parse(body) as Output<Name>
}

/** Reads, and reads again every so often where asked to. */
export function useAsk<Name extends ActionName>(
  name: Name,
  input: Input<Name>,
  options: {
    /** Milliseconds; or what they are, by the last answer: `false` where it stands. */
    every?: number | ((last: Output<Name> | undefined) => number | false)
    enabled?: boolean
    first?: Output<Name> | undefined
    /** What was answered to the question before stands until this one is answered. */
    keepLast?: boolean
  } = {},
): UseQueryResult<Output<Name>, Refused> {
  const { first, every = false } = options
  return useQuery<Output<Name>, Refused>({
    queryKey: [name, input],
    queryFn: () => talk(name, input),
    refetchInterval: typeof every === 'function' ? ({ state }) => every(state.data) : every,
    enabled: options.enabled ?? true,
    ...(options.keepLast === true ? { placeholderData: keepPreviousData } : {}),
    initialData: first === undefined ? undefined : () => first,
  })
}

/** Changes something, then lets every screen that is open read again what it shows. */
export function useTell<Name extends ActionName>(name: Name, done?: (output: Output<Name>) => void) {
  const client = useQueryClient()
  return useMutation<Output<Name>, Refused, Input<Name>>({
    mutationFn: (input) => talk(name, input),
    onSuccess: (output) => {
      void client.invalidateQueries()
      done?.(output)
    },
  })
}
