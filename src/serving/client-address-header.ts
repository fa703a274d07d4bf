/** Set by the server before the framework, whatever came under this name: whose request it is. */
export const CLIENT_ADDRESS = 'x-sprig-client'
