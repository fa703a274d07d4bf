const WIDTH = 24
/** Where nobody can watch a line change, one is said every so often. */
const SAY_EVERY = 15_000

/**
 * How far something long is: one line that changes where somebody watches, and a line now and then where it is kept in a log.
 *
 * @param of how many steps there are; `null` where nobody knows, and the time that has passed is said instead
 */
export class Progress {
  readonly #began = Date.now()
  readonly #timer: NodeJS.Timeout
  #done = 0
  #saidAt = Date.now()

  constructor(
    private readonly what: string,
    private readonly of: number | null,
    private readonly out: Pick<NodeJS.WriteStream, 'write' | 'isTTY'> = process.stderr,
  ) {
    this.out.write(this.out.isTTY ? `${this.#line()}` : `${what} …\n`)
    this.#timer = setInterval(() => this.#tell(false), 1000)
    this.#timer.unref()
  }

  at(done: number): void {
    this.#done = done
    this.#tell(false)
  }

  end(how = 'done'): void {
    clearInterval(this.#timer)
    this.out.write(`${this.out.isTTY ? '\r\x1b[K' : ''}${this.what}: ${how} after ${this.#passed()}\n`)
  }

  #tell(always: boolean): void {
    if (this.out.isTTY) return void this.out.write(`\r\x1b[K${this.#line()}`)
    if (!always && Date.now() - this.#saidAt < SAY_EVERY) return
    this.#saidAt = Date.now()
    this.out.write(`${this.#line()}\n`)
  }

  #line(): string {
    if (this.of === null) return `${this.what} … ${this.#passed()}`
    const full = Math.round((WIDTH * this.#done) / this.of)
    return `${this.what}  [${'#'.repeat(full)}${'.'.repeat(WIDTH - full)}]  ${this.#done} of ${this.of}, ${this.#passed()}`
  }

  #passed(): string {
    const seconds = Math.round((Date.now() - this.#began) / 1000)
    return seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`
  }
}

/** Says what is waited for, once it takes longer than anybody expects. */
export async function whileWaiting<Done>(what: string, work: Promise<Done>, after = 5000): Promise<Done> {
  let shown: Progress | null = null
  const timer = setTimeout(() => (shown = new Progress(what, null)), after)
  try {
    return await work
  } finally {
    clearTimeout(timer)
    ;(shown as Progress | null)?.end()
  }
}
