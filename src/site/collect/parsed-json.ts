/** `undefined` where it is no JSON: no schema takes that. */
export function parsedJson(body: unknown): unknown {
  try {
    return typeof body === 'string' ? JSON.parse(body) : undefined
  } catch {
    return undefined
  }
}
