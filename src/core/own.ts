/** What an object itself has under a name from outside; never what every object has, such as `constructor`. */
export function own<Value>(object: { readonly [name: string]: Value }, name: string): Value | undefined {
  return Object.hasOwn(object, name) ? object[name] : undefined
}

/**
 * Any text but a name that every object answers to: as an id or a property’s name that would find what nobody put there.
 * A pattern, so that a published schema says it too.
 */
export const NOT_INHERITED = new RegExp(`^(?!(?:${Object.getOwnPropertyNames(Object.prototype).join('|')})$)`)
