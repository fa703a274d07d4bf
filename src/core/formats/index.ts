export { FileFault } from './fault'
export { readOpml, writeOpml, type OutlineFile, type OutlineItem } from './opml'
export { exchangeJsonSchema, parseJson, readExchange, writeExchange, type Exchange } from './exchange'
