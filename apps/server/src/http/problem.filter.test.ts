import { PROBLEM, type Problem } from '@idle-step/contract';
import type { ArgumentsHost } from '@nestjs/common';
import { expect, it } from 'vitest';
import { ProblemFilter } from './problem.filter';

/** What a request that ended in an error is answered. */
function answered(error: unknown): Problem {
  let body = '';
  const response = {
    headersSent: false,
    status: () => response,
    type: () => response,
    send: (text: string) => void (body = text),
  };
  const http = { getResponse: () => response, getRequest: () => ({ method: 'PUT', path: '/api/songs' }) };
  new ProblemFilter().catch(error, { switchToHttp: () => http } as unknown as ArgumentsHost);
  return JSON.parse(body) as Problem;
}

const ofDriver = (code: string, message: string) =>
  Object.assign(new Error(message), { driverError: { code } });

it.each([
  // Source: the words of a MariaDB 10.11 whose disk was filled by hand (1114); the others from memory.
  ofDriver('ER_RECORD_FILE_FULL', "The table 'song' is full"),
  ofDriver(
    'ER_DISK_FULL',
    'Disk full (/tmp/x); waiting for someone to free some space... (errno: 28 "No space left on device")',
  ),
  ofDriver('ER_GET_ERRNO', 'Got error 28 "No space left on device" from storage engine InnoDB'),
])('a disk without room is said: %s', (error) =>
  expect(answered(error)).toMatchObject({
    type: PROBLEM.full,
    status: 507,
    detail: expect.stringContaining('disk of the database is full'),
  }),
);

it.each([
  [ofDriver('ECONNREFUSED', 'connect ECONNREFUSED'), PROBLEM.noDatabase],
  [ofDriver('ER_PARSE_ERROR', 'You have an error in line 28'), PROBLEM.internal],
  [new Error('a song with error 2800'), PROBLEM.internal],
])('%s is %s', (error, type) => expect(answered(error).type).toBe(type));
