import { createHash } from 'node:crypto'
import { readFileSync, readdirSync, statSync } from 'node:fs'
import { join, extname, relative, sep } from 'node:path'

/** Where the build puts all that the site looks like. */
export const LOOK_FOLDER = join('public', 'look')

export interface Asset {
  readonly body: Buffer
  readonly type: string
  readonly etag: string
}

const types: Readonly<Record<string, string>> = {
  '.css': 'text/css; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.woff2': 'font/woff2',
  '.webm': 'video/webm',
}

/** Everything that looks like the site, read into memory once: styles, typefaces, pictures, the browser script. */
export function readAssets(folder: string): Map<string, Asset> {
  const assets = new Map<string, Asset>()
  const read = (at: string) => {
    for (const name of readdirSync(at)) {
      const path = join(at, name)
      if (statSync(path).isDirectory()) read(path)
      else {
        const body = readFileSync(path)
        const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`
        assets.set(`/look/${relative(folder, path).split(sep).join('/')}`, {
          body,
          type: types[extname(name)] ?? 'application/octet-stream',
          etag,
        })
      }
    }
  }
  read(folder)
  return assets
}
