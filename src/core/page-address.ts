import * as z from 'zod'
import { OWN_ADDRESSES } from './site-routes'

export const LONGEST_ADDRESS = 400

/** What may stand between two slashes: letters, digits and marks of any script, and signs that need no escaping anywhere. */
const SIGNS = String.raw`[\p{L}\p{M}\p{N}._~!$()*+,;=:@-]`
const FORM = new RegExp(String.raw`^/(?:${SIGNS}+(?:/${SIGNS}+)*)?$`, 'u')
const OWN = new RegExp(`^(?!/(?:${OWN_ADDRESSES})$)`, 'u')
const NO_STEPS = /^(?!.*\/\.{1,2}(?:\/|$))/u

/**
 * Where a page stands on the site: the path of an IRI (RFC 3987), as people read it and in normalization form C. Percent
 * signs stand for nothing here; browsers ask for it in the form of {@link asAsked}.
 */
export const pageAddressSchema = z
  .string()
  .normalize()
  .max(LONGEST_ADDRESS, `an address has at most ${LONGEST_ADDRESS} characters`)
  .regex(
    FORM,
    'an address begins with “/” and has letters, digits and signs such as “-”, “.” and “_” between single slashes, and none at its end',
  )
  .regex(NO_STEPS, 'no part of an address is “.” or “..”')
  .regex(OWN, 'the site itself answers at this address; choose another one')

const KEPT = new RegExp(`^/(?:/|${SIGNS})*$`, 'u')
/** The address that a page was published at: kept from before there were as many rules, it may break some. */
export function keptAddress(value: unknown): string {
  return typeof value === 'string' && KEPT.test(value) ? value : '/'
}

/** Whether the site itself answers there, so that no page can. */
export function isOwnAddress(address: string): boolean {
  return !OWN.test(address)
}

/** An address as browsers ask for it and as it is written into pages: what is not ASCII in percent-encoded UTF-8. */
export function asAsked(address: string): string {
  try {
    return encodeURI(address)
  } catch {
    // Half a character, kept from before anybody looked.
    return address
  }
}

/**
 * The address that is meant by what was asked for, however it was encoded, and with a slash at its end or without.
 *
 * @returns `null` where it is none
 */
export function readAddress(asked: string): string | null {
  try {
    return decodeURI(asked)
      .normalize()
      .replace(/([^/])\/$/, '$1')
  } catch {
    return null
  }
}
