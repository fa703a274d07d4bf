import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/bricolage-grotesque'
import type { Metadata } from 'next'
import { connection } from 'next/server'
import type { ReactNode } from 'react'
import { siteOrigin } from '@/serving/addresses'
import { regions } from '@/serving/regions'
import { identityNow } from './identity-now'
import { Studio } from '@/studio/frame/studio'
import '@/studio/controls/controls.css'
import '@/studio/studio.css'

/** By name and code: which addresses they have is nothing that a screen needs. */
const named = regions.map(({ code, name }) => ({ code, name }))

export const metadata: Metadata = { title: { default: 'Upbeat Sprig', template: '%s · Upbeat Sprig' } }

export default async function Layout({ children }: { children: ReactNode }) {
  // Drawn for each request: what its scripts are let in by is new each time.
  await connection()
  const { identity, timeZone } = await identityNow()
  return (
    <html lang="en">
      <body>
        <Studio siteAddress={siteOrigin()} identity={identity} timeZone={timeZone} regions={named}>
          {children}
        </Studio>
      </body>
    </html>
  )
}
