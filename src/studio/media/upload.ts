'use client'

import * as z from 'zod'
import { faultSchema } from '@/contract/contract'
import { Refused } from '../talk'

/** Brings a file into the media library. @returns its name there @throws {Refused} */
export async function upload(file: File, title: string, alt: string): Promise<string> {
  const body = await send(`/api/media?${new URLSearchParams({ title, alt })}`, file)
  return z.object({ name: z.string() }).parse(body).name
}

/** Sends a file as it is. @throws {Refused} with what was wrong with it */
export async function send(address: string, file: Blob): Promise<unknown> {
  const answer = await fetch(address, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', ...(await digestOf(file)) },
    body: file,
  }).catch(() => {
    throw new Refused('away', 'The studio’s server does not answer. Try again in a moment.')
  })
  const body: unknown = await answer.json().catch(() => null)
  if (answer.ok) return body
  const fault = faultSchema.safeParse(body)
  throw new Refused(fault.success ? fault.data.code : 'broken', fault.success ? fault.data.fault : 'The file could not be taken.')
}

/** What must arrive (RFC 9530), where this browser can work it out: only at addresses that are safe. */
async function digestOf(file: Blob): Promise<Record<string, string>> {
  const { subtle } = globalThis.crypto as { subtle?: SubtleCrypto }
  if (subtle === undefined) return {}
  const digest = new Uint8Array(await subtle.digest('SHA-256', await file.arrayBuffer()))
  return { 'content-digest': `sha-256=:${btoa(String.fromCharCode(...digest))}:` }
}

/** Hands a file to the person at the browser. */
export function download({ name, type, text }: { name: string; type: string; text: string }): void {
  const address = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}
