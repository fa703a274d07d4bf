import * as z from 'zod'
import { segmentIdSchema } from '../../ids'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({ kind: z.literal('segment'), segment: segmentIdSchema, fits: z.boolean() })

/** A named condition. What it asks is put in its place before anybody is asked. */
export const segment = comparisonKind(schema, {
  label: 'the segment',
  sentence: (comparison, { segments }) => [
    {
      control: 'choice',
      label: 'Segment',
      value: comparison.segment,
      quoted: true,
      options: [
        ...segments.map(({ id, name }) => ({ value: id, label: name })),
        ...(segments.some(({ id }) => id === comparison.segment)
          ? []
          : [{ value: comparison.segment, label: 'a segment that is gone' }]),
      ],
      put: (to) => {
        const found = segments.find(({ id }) => id === to)
        return found === undefined ? null : { ...comparison, segment: found.id }
      },
    },
    oneOf('Fits', comparison.fits ? 'fits' : 'not', { fits: 'fits them', not: 'does not fit them' }, (code) => ({
      ...comparison,
      fits: code === 'fits',
    })),
  ],
  holds: () => false,
  begins: ({ segments: [first] }) => (first === undefined ? null : { kind: 'segment', segment: first.id, fits: true }),
  remembered: true,
})
