import { benchDecide } from './decide'
import { benchServe } from './serve'

benchDecide()
benchServe().then(
  () => process.exit(0),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
