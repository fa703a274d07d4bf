/** Stands where the component library brings along a validator of forms; what is typed here is checked by our own schemas. */
export default class NoValidator {
  validate(): never {
    throw new Error('forms are checked by schemas, not by rules')
  }
}
