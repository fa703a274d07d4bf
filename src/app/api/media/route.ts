import { takeUpload } from '@/app/upload'
import { FILM_LIMIT, keepFile } from '@/server/formats/picture-file'

/** Brings a picture or a film into the media library: the bytes as they are, what it is called in the address. */
export function POST(request: Request): Promise<Response> {
  return takeUpload(request, FILM_LIMIT, 'editor', async ({ db, account, body, query }) => {
    const file = await keepFile(db, body, { title: query.get('title') ?? '', alt: query.get('alt') ?? '', author: account.name })
    return { name: file.name, type: file.type }
  })
}
