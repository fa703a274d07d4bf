export { passText, readPass, type Pass } from './pass'
export { callAs, roundOn, versionsFor, versionsOn, type CallVersion } from './versions'
