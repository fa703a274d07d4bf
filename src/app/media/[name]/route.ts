import { signedOut } from '@/app/request-guard'
import { mediaName } from '@/contract/contract'
import { accountOrNull } from '@/app/session'
import { sharedDatabase } from '@/server/database/connect'
import { readServed } from '@/server/stores/media'
import { libraryFile, sendingOf } from '@/serving/library-file'

/** A file of the media library, for the page frames of the studio. A name is made from what is in it, so it never changes. */
export async function GET(request: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  if ((await accountOrNull()) === null) return signedOut()
  const name = mediaName.safeParse((await params).name)
  const [file] = name.success ? await readServed(sharedDatabase(), [name.data]) : []
  const { asset, forGood, varies } = sendingOf(
    file === undefined ? undefined : libraryFile(file),
    new URL(request.url).searchParams.get('w'),
    request.headers.get('accept') ?? undefined,
  )
  if (asset === undefined) return new Response('There is no such file.\n', { status: 404 })
  return new Response(new Uint8Array(asset.body), {
    headers: {
      'content-type': asset.type,
      'cache-control': forGood ? 'private, max-age=31536000, immutable' : 'private, no-cache',
      ...(varies ? { vary: 'accept' } : {}),
      'x-content-type-options': 'nosniff',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    },
  })
}
