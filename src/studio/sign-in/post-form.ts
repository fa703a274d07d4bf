'use client'

import { faultSchema } from '@/contract/contract'

/** Posts what a form holds. @returns `null` when it was taken, else what was wrong in words that can be shown */
export async function postForm(address: string, values: Record<string, FormDataEntryValue | null>): Promise<string | null> {
  try {
    const answer = await fetch(address, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(values),
    })
    if (answer.ok) return null
    const said = faultSchema.safeParse(await answer.json())
    return said.success ? said.data.fault : 'That did not work. Try again.'
  } catch {
    return 'The studio’s server does not answer. Try again in a moment.'
  }
}
