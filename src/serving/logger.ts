import pino, { type Logger } from 'pino'
import { shortened } from '@/core/text'

const LONGEST = 4000

/** What goes wrong is written down as far as a person reads: the database's faults hold the whole statement, films included. */
export function logger(name: string): Logger {
  const bounded = (reason: Error) => {
    const { message, stack = '', ...rest } = pino.stdSerializers.err(reason)
    const said = Object.fromEntries(
      Object.entries(rest).filter(([key, value]) => key !== 'sql' && (typeof value !== 'string' || value.length < LONGEST)),
    )
    return { ...said, message: shortened(message, LONGEST), stack: shortened(stack, LONGEST) }
  }
  return pino({ name, serializers: { err: bounded } })
}
