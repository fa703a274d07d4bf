import { readFile } from 'node:fs/promises'
import { takeUpload } from '@/app/upload'
import { shortened } from '@/core/text'
import { FILM_LIMIT } from '@/server/formats/checked-file'
import { keepSized } from '@/server/formats/picture-file'

/** Brings a picture or a film into the media library: the bytes as they are, what it is called in the address. */
export function POST(request: Request): Promise<Response> {
  return takeUpload(
    request,
    { limit: FILM_LIMIT, role: 'editor', action: 'media.bring' },
    async ({ db, account, path, query }) => {
      const about = {
        title: shortened(query.get('title') ?? '', 200),
        alt: shortened(query.get('alt') ?? '', 500),
        author: account.name,
      }
      const file = await keepSized(db, await readFile(path), about)
      return { name: file.name, type: file.type }
    },
  )
}
