import type * as z from 'zod'

const storageName = (name: string) => `unsaved ${name}`

/** Keeps what is not saved yet in this browser, over a reload and a killed server; `null` takes it away. */
export function keepInBrowser(name: string, unsaved: object | null): void {
  try {
    if (unsaved === null) window.localStorage.removeItem(storageName(name))
    else window.localStorage.setItem(storageName(name), JSON.stringify(unsaved))
  } catch {
    // Full, or switched off: it is still on the screen, and leaving asks.
  }
}

/** What was kept under this name; `null` where nothing was, or nothing that can be read. */
export function keptInBrowser<Schema extends z.ZodType>(name: string, schema: Schema): z.output<Schema> | null {
  try {
    const text = window.localStorage.getItem(storageName(name))
    return text === null ? null : (schema.safeParse(JSON.parse(text)).data ?? null)
  } catch {
    return null
  }
}
