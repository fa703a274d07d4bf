import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { goalKind } from './kind'
import { pageShown } from './page-shown'

/** This page is shown. */
export const page = goalKind(z.object({ kind: z.literal('page'), document: documentIdSchema }), {
  label: 'A page is shown',
  words: ({ document }, { titleOf }) => `“${titleOf(document)}” is shown`,
  reaches: ({ document }, event) => event.kind === 'page' && event.document === document,
  doing: ({ document }, at) => [{ ...pageShown(at), document }],
  needs: ({ document }) => ({ kind: 'page', document }),
  toldByPage: true,
  reported: false,
  begins: ({ pages: [first] }) => (first === undefined ? null : { kind: 'page', document: first.id }),
})
