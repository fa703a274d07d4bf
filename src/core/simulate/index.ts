export { reactionOf, readerOf, type Reaction, type Reader, type ReadersPlan } from './readers'
export { wanderings, type Surroundings } from './wanderings'
export { lotsOf, pick, visitors, type Crowd, type SimulatedVisitor } from './visitors'
