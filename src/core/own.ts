/** What an object itself has under a name from outside; never what every object has, such as `constructor`. */
export function own<Value>(object: { readonly [name: string]: Value }, name: string): Value | undefined {
  return Object.hasOwn(object, name) ? object[name] : undefined
}

/** A name that every object answers to. As an id or a property’s name it would find what nobody put there. */
export function isInherited(name: string): boolean {
  return name in {}
}
