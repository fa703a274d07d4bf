import { AntdRegistry } from '@ant-design/nextjs-registry'
import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/bricolage-grotesque'
import type { Metadata } from 'next'
import { headers } from 'next/headers'
import type { ReactNode } from 'react'
import { siteOrigin } from '@/serving/addresses'
import { identityNow } from './identity-now'
import { Studio } from '@/studio/frame/studio'
import '@/studio/studio.css'

export const metadata: Metadata = { title: { default: 'Upbeat Sprig', template: '%s · Upbeat Sprig' } }

export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined
  const { identity, timeZone } = await identityNow()
  return (
    <html lang="en">
      <body>
        <AntdRegistry>
          <Studio siteAddress={siteOrigin()} identity={identity} timeZone={timeZone} nonce={nonce}>
            {children}
          </Studio>
        </AntdRegistry>
      </body>
    </html>
  )
}
