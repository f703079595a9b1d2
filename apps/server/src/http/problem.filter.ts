import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import { PROBLEM, type Problem } from '@idle-step/contract';
import type { Request, Response } from 'express';
import { ProblemException } from './problem.exception';

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
    this.log.error(error instanceof Error ? error.stack : String(error));
    return {
      type: PROBLEM.internal,
      title: 'Server error',
      status: 500,
      detail: 'The server failed on this request and stored nothing. Its log has the reason.',
    };
  }
}
