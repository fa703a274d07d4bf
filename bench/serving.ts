import { benchServe } from './serve'

benchServe().then(
  () => process.exit(0),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
