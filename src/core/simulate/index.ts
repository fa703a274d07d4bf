export { lotsOf, pick, visitors, type Crowd, type SimulatedVisitor } from './visitors'
