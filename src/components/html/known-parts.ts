/** How a file says that a part is the place of a document of its own: by the type of the place, an attribute with the id. */
export const knownParts = { callToAction: 'data-call-to-action', shared: 'data-shared-component' } as const
