import type { IncomingMessage } from 'node:http'
import { clientAddresses } from './client-address'

const request = (from: string, forwarded?: string) =>
  ({
    socket: { remoteAddress: from },
    headers: forwarded === undefined ? {} : { 'x-forwarded-for': forwarded },
  }) as IncomingMessage

test.each([
  ['nobody is believed unless named', '', '127.0.0.1', '203.0.113.9', '127.0.0.1'],
  ['a named proxy is', '127.0.0.1', '127.0.0.1', '203.0.113.9', '203.0.113.9'],
  ['also by its range', '10.0.0.0/8', '10.1.2.3', '203.0.113.9', '203.0.113.9'],
  ['what the client put in front is not', '127.0.0.1', '127.0.0.1', '198.51.100.7, 203.0.113.9', '203.0.113.9'],
  ['a chain of named ones is followed', 'loopback, 10.0.0.0/8', '127.0.0.1', '203.0.113.9, 10.0.0.4', '203.0.113.9'],
  ['a port behind it says nothing', '127.0.0.1', '127.0.0.1', '203.0.113.9:1234', '203.0.113.9'],
  ['nor in the later form', '127.0.0.1', '127.0.0.1', '[2001:db8::9]:1234', '2001:db8::9'],
  ['somebody else is not believed', '10.0.0.0/8', '203.0.113.9', '198.51.100.7', '203.0.113.9'],
])('%s', (_, trusted, from, forwarded, expected) => {
  expect(clientAddresses(trusted)(request(from, forwarded))).toBe(expected)
})

test('a header that is no address at all costs nothing', () => {
  expect(() => clientAddresses('127.0.0.1')(request('127.0.0.1', 'x'.repeat(5000)))).not.toThrow()
  expect(() => clientAddresses('no address')).toThrow(TypeError)
})
