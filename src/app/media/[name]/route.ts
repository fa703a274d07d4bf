import { signedOut } from '@/app/request-guard'
import { mediaName } from '@/contract/contract'
import { accountOrNull } from '@/app/session'
import { sharedDatabase } from '@/server/database/connect'
import { readMedia } from '@/server/stores/media'

/** A file of the media library, for the page frames of the studio. A name is made from what is in it, so it never changes. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  if ((await accountOrNull()) === null) return signedOut()
  const name = mediaName.safeParse((await params).name)
  const [file] = name.success ? await readMedia(sharedDatabase(), [name.data]) : []
  if (file === undefined) return new Response('There is no such file.\n', { status: 404 })
  return new Response(new Uint8Array(file.body), {
    headers: {
      'content-type': file.type,
      'cache-control': 'private, max-age=31536000, immutable',
      'x-content-type-options': 'nosniff',
      'content-security-policy': "default-src 'none'",
    },
  })
}
