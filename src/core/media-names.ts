/** What a file of the media library is called: a digest of what is in it. */
const NAME = /\bm-[0-9a-f]{32}\b/g

/**
 * The files of the media library that anything of a site names, wherever in it: a field, a text, an edit, the site’s own
 * picture. By the form of the names alone, so that no new place for one can be forgotten.
 */
export function mediaNamedIn(...things: readonly unknown[]): Set<string> {
  return new Set(things.flatMap((thing) => JSON.stringify(thing)?.match(NAME) ?? []))
}
