export { passText, readPass, type Pass } from './pass'
export { callAs, roundOn, versionsFor, type CallVersion } from './versions'
