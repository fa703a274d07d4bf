export { blockSchema, callsIn, letterSchema, type Block, type Letter } from './letter'
export { passText, readPass, type Pass } from './pass'
export { callAs, roundOn, versionsFor, type CallVersion } from './versions'
