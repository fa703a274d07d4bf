'use client'

import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { ConfigProvider } from 'antd'
import { createContext, useContext, useState, type ReactNode } from 'react'
import { nameless, type Identity } from '@/core/identity'
import { Refused } from '../talk'
import { theme } from '../theme'
import { MessagesOver } from './messages'
import { tellClock } from './wording'

const SiteAddress = createContext('')
const SiteIdentity = createContext<Identity>(nameless)

/** Where the public site is. */
export function useSiteAddress(): string {
  return useContext(SiteAddress)
}

/** What the site calls itself, for pages that are drawn here. */
export function useSiteIdentity(): Identity {
  return useContext(SiteIdentity)
}

/** What every screen stands in: theme, messages, and the memory of what was read. */
export function Studio({
  siteAddress,
  identity,
  timeZone,
  nonce,
  children,
}: {
  siteAddress: string
  identity: Identity
  timeZone: string
  nonce: string | undefined
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
    <ConfigProvider theme={theme} csp={nonce === undefined ? {} : { nonce }} wave={{ disabled: true }}>
      <MessagesOver>
        <QueryClientProvider client={client}>
          <SiteAddress.Provider value={siteAddress}>
            <SiteIdentity.Provider value={identity}>{children}</SiteIdentity.Provider>
          </SiteAddress.Provider>
        </QueryClientProvider>
      </MessagesOver>
    </ConfigProvider>
  )
}
