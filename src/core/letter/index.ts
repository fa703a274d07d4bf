export { passText, readPass, readSignedPass, signedPass, type Pass, type Signer } from './pass'
export { callAs, roundOn, versionsFor, versionsOn, type CallVersion } from './versions'
