import * as z from 'zod'
import { cloudEventSchema, outsideReportSchema } from '@/core/goals'
import { MOST_REPORTS } from './read-reports'

const answerSchema = z.object({
  kept: z.array(z.string()).describe('Ids of the reports that were kept, in their order.'),
  refused: z
    .array(z.object({ place: z.number().int(), field: z.string(), fault: z.string() }))
    .describe('What was not taken: its place in what was sent, counted from one (in NDJSON its line), the field, and why.'),
})

/** The interface for reports from elsewhere, as OpenAPI 3.1, from the schemas that check what comes. */
export function openApi(origin: string): object {
  const schema = (of: z.ZodType) => {
    const made = z.toJSONSchema(of, { io: 'input' })
    return Object.fromEntries(Object.entries(made).filter(([name]) => name !== '$schema'))
  }
  const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` })
  const answer = (description: string) => ({ description, content: { 'application/json': { schema: ref('Answer') } } })
  const words = (description: string) => ({ description, content: { 'text/plain': { schema: { type: 'string' } } } })
  return {
    openapi: '3.1.0',
    info: {
      title: 'Reports from elsewhere',
      version: '1',
      description: 'What happened outside this site, told to it: events by name, orders, and what was paid back of them.',
    },
    servers: [{ url: origin }],
    security: [{ key: [] }],
    paths: {
      '/report': {
        post: {
          operationId: 'report',
          summary: `One report or up to ${MOST_REPORTS}. The same id sent again counts once.`,
          parameters: ['specversion', 'id', 'source', 'type', 'subject', 'time'].map((name) => ({
            name: `ce-${name}`,
            in: 'header',
            required: false,
            description: 'Of a CloudEvent in the binary mode.',
            schema: { type: 'string' },
          })),
          requestBody: {
            required: false,
            content: {
              'application/json': { schema: { oneOf: [ref('Report'), { type: 'array', items: ref('Report') }] } },
              'application/x-ndjson': { schema: { type: 'string', description: 'A report on every line.' } },
              'application/cloudevents+json': { schema: ref('CloudEvent') },
              'application/cloudevents-batch+json': { schema: { type: 'array', items: ref('CloudEvent') } },
              // In the binary mode, the attributes of a CloudEvent are headers and the body is its data.
              'text/plain': {
                schema: { type: 'string', description: 'Data of a CloudEvent whose attributes are in ce- headers.' },
              },
            },
          },
          responses: {
            200: answer('Everything was kept.'),
            400: answer('Something was not taken; the rest was kept.'),
            401: words('No key, or none that opens anything.'),
            403: words('The key is for another origin.'),
            413: words('More than a megabyte at once.'),
            415: words('Not one of the forms that are taken, or packed.'),
            429: words('Too often. Send it again after the seconds of Retry-After.'),
            503: words('It cannot be written just now. Send it again after the seconds of Retry-After.'),
          },
        },
      },
      '/report/image': {
        get: {
          operationId: 'reportByImage',
          summary: 'An event from where no script can run.',
          security: [],
          parameters: [
            { name: 'key', in: 'query', required: true, schema: { type: 'string' } },
            { name: 'event', in: 'query', required: true, schema: { type: 'string' } },
          ],
          responses: { 200: { description: 'A picture of one pixel, whether it counted or not.', content: { 'image/gif': {} } } },
        },
      },
      '/report/openapi.json': {
        get: {
          operationId: 'describe',
          summary: 'This description.',
          security: [],
          responses: { 200: { description: 'OpenAPI 3.1', content: { 'application/json': {} } } },
        },
      },
    },
    components: {
      securitySchemes: { key: { type: 'http', scheme: 'bearer' } },
      schemas: { Report: schema(outsideReportSchema), CloudEvent: schema(cloudEventSchema), Answer: schema(answerSchema) },
    },
  }
}
