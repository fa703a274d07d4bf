'use client'

import { QueryClient, QueryClientProvider } from '@tanstack/react-query'

import { createContext, useContext, useState, type ReactNode } from 'react'
import type { Surroundings } from '@/core/decide'
import { nameless, type Identity } from '@/core/identity'
import { Refused } from '../talk'
import { MessagesOver } from './messages'
import { tellClock } from './wording'

const SiteAddress = createContext('')
const SiteIdentity = createContext<Identity>(nameless)
type Regions = Surroundings['regions']
const SiteRegions = createContext<Regions>([])

/** Where the public site is. */
export function useSiteAddress(): string {
  return useContext(SiteAddress)
}

/** What the site calls itself, for pages that are drawn here. */
export function useSiteIdentity(): Identity {
  return useContext(SiteIdentity)
}

/** The regions that visitors are told apart by. */
export function useRegions(): Regions {
  return useContext(SiteRegions)
}

/** What every screen stands in: messages, and the memory of what was read. */
export function Studio({
  siteAddress,
  identity,
  timeZone,
  regions,
  children,
}: {
  siteAddress: string
  identity: Identity
  timeZone: string
  regions: Regions
  children: ReactNode
}) {
  tellClock(timeZone)
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            staleTime: 2000,
            retry: (count, reason) => count < 2 && !(reason instanceof Refused && reason.code !== 'away'),
          },
        },
      }),
  )
  return (
    <MessagesOver>
      <QueryClientProvider client={client}>
        <SiteAddress.Provider value={siteAddress}>
          <SiteIdentity.Provider value={identity}>
            <SiteRegions.Provider value={regions}>{children}</SiteRegions.Provider>
          </SiteIdentity.Provider>
        </SiteAddress.Provider>
      </QueryClientProvider>
    </MessagesOver>
  )
}
