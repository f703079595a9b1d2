import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import { PROBLEM, type Problem } from '@idle-step/contract';
import type { Request, Response } from 'express';
import { ProblemException } from './problem.exception';

/** Words of the driver for a database that is not there. Source: the mysql2 package and Node's own. */
const UNREACHABLE = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CONNECTION_KILLED',
]);

/** Any error may come here; fields that it does not have are undefined. */
const partsOf = (error: unknown) =>
  (error ?? {}) as { code?: string; message?: string; driverError?: { code?: string } };

function isUnreachable(error: unknown): boolean {
  const { code, driverError } = partsOf(error);
  return UNREACHABLE.has(driverError?.code ?? '') || UNREACHABLE.has(code ?? '');
}

/** Words of the database for a disk without room. Source: MariaDB error codes 1021 and 1114. */
const FULL = new Set(['ER_DISK_FULL', 'ER_RECORD_FILE_FULL']);
/** Source: POSIX, ENOSPC and EDQUOT of Linux. */
const NO_ROOM = /\b(?:errno|error|Errcode)\W*(?:28|122)\b|No space left on device/i;

function isFull(error: unknown): boolean {
  const { driverError, message } = partsOf(error);
  const code = driverError?.code ?? '';
  return FULL.has(code) || NO_ROOM.test(message ?? '');
}

/** Every error leaves as `application/problem+json` with a plain sentence; bugs are logged and not shown. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('Http');

  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp();
    const response = http.getResponse<Response>();
    const problem = this.problemOf(error, http.getRequest<Request>());
    if (response.headersSent) return;
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  }

  private problemOf(error: unknown, request: Request): Problem {
    if (error instanceof ProblemException) return error.problem;
    if (error instanceof HttpException) {
      const status = error.getStatus();
      const detail =
        status === 404 ? `There is nothing at ${request.method} ${request.path}.` : `${error.message}.`;
      return { type: PROBLEM.refused, title: error.name, status, detail };
    }
    if (isUnreachable(error))
      return {
        type: PROBLEM.noDatabase,
        title: 'Database off',
        status: 503,
        detail: 'The database does not answer at the moment, so nothing was stored. Try again.',
      };
    if (isFull(error))
      return {
        type: PROBLEM.full,
        title: 'Disk full',
        status: 507,
        detail:
          'The disk of the database is full, so nothing was stored. Make room there; it is tried again.',
      };
    this.log.error(error instanceof Error ? error.stack : String(error));
    return {
      type: PROBLEM.internal,
      title: 'Server error',
      status: 500,
      detail: 'The server failed on this request and stored nothing. Its log has the reason.',
    };
  }
}
