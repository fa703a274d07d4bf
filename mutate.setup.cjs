/** A law that fails is enough to know: the smallest example is not looked for, which would take a minute for each change. */
require('fast-check').configureGlobal({ endOnFailure: true })
