/**
 * A promise that nobody waited for ends a process unless somebody says otherwise. Here it is written down, and the
 * process goes on: whoever waits for what it was about has been answered, or will ask again.
 */
export function keepGoing(log: (reason: unknown) => void): void {
  process.on('unhandledRejection', (reason) => log(reason))
}
