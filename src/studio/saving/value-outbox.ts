import { isSameData } from '@/core/same-data'
import { threeWay } from './three-way'

/** What the server has, with the lock it has it under. */
export interface Kept<Value> {
  readonly value: Value
  readonly lock: number
}

/** What has to be written down so that it comes back as it was. */
export interface UnsentValue<Value> extends Kept<Value> {
  /** As the server had it when this was begun. */
  readonly before: Value
  /** What was sent and got no answer: the server may have it. */
  readonly sent: readonly Value[]
}

/**
 * A thing that is saved whole and waits to be: the design of a test, a goal, a version. It keeps to the laws of the edits of
 * a draft: saved again where no answer came, it is saved once; what somebody else changed meanwhile is met field by field;
 * what both changed is nobody's until somebody says whose.
 */
export class ValueOutbox<Value extends object> {
  #known: Value
  #lock: number
  #mine: Value | null
  #sent: Value[] = []

  constructor({ value, lock }: Kept<Value>, mine: Value | null = null, sent: readonly Value[] = []) {
    this.#sent = [...sent]
    this.#known = value
    this.#lock = lock
    this.#mine = mine
  }

  /** From what was written down. */
  static takenUp<Of extends object>({ before, value, lock, sent }: UnsentValue<Of>): ValueOutbox<Of> {
    return new ValueOutbox({ value: before, lock }, value, sent)
  }

  get isEmpty(): boolean {
    return this.#mine === null
  }

  /** As it is edited here. */
  get value(): Value {
    return this.#mine ?? this.#known
  }

  get lock(): number {
    return this.#lock
  }

  get kept(): UnsentValue<Value> | null {
    return this.#mine === null ? null : { value: this.#mine, before: this.#known, lock: this.#lock, sent: this.#sent }
  }

  put(value: Value): void {
    this.#mine = value
  }

  /** What is to be sent, the same as last time where no answer came and nothing was changed since; `null` where nothing waits. */
  next(): Kept<Value> | null {
    if (this.#mine === null) return null
    if (this.#sent.at(-1) !== this.#mine) this.#sent.push(this.#mine)
    return { value: this.#mine, lock: this.#lock }
  }

  /** It was saved. What was changed after it was sent waits for the next time. */
  answered(sent: Value, lock: number): void {
    this.#known = sent
    this.#lock = lock
    this.#sent = []
    if (this.#mine === sent) this.#mine = null
  }

  /**
   * Somebody else saved it meanwhile, or the answer to what was sent from here was lost.
   *
   * @returns whether both meet; if not, nothing is changed here
   */
  meets(now: Kept<Value>): boolean {
    const merged = this.#mine === null ? now.value : threeWay(this.#baseOf(now.value), this.#mine, now.value)
    if (merged === null) return false
    this.#known = now.value
    this.#lock = now.lock
    this.#sent = []
    this.#mine = isSameData(merged, now.value) ? null : merged
    return true
  }

  /** What was typed since is held against what the server took from here last, though its answer never came. */
  #baseOf(now: Value): Value {
    const could = [this.#known, ...this.#sent]
    const own = (Object.keys(this.#known) as (keyof Value)[]).filter(
      (field) => !could.every((one) => isSameData(one[field], this.#known[field])),
    )
    return could.findLast((one) => own.every((field) => isSameData(one[field], now[field]))) ?? this.#known
  }

  /** What the server was seen to have: taken where nothing made here would be lost, and nothing older than what was saved. */
  seen(now: Kept<Value>): void {
    if (this.#mine !== null || now.lock < this.#lock) return
    this.#known = now.value
    this.#lock = now.lock
  }

  giveUp(): void {
    this.#mine = null
    this.#sent = []
  }
}
