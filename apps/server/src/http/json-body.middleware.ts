import { PROBLEM, unreadable, type Problem } from '@idle-step/contract';
import { json, type NextFunction, type Request, type Response } from 'express';
import { invalid } from './problem.exception';

/** Largest body taken, in bytes. A preset of 10 banks × 16 controls × 3 gestures is well under a tenth of it. */
export const BODY_LIMIT_BYTES = 4_000_000;

const parser = json({ limit: BODY_LIMIT_BYTES });

/** Reads a JSON body; what cannot be read is refused in our own words. */
export function jsonBody(request: Request, response: Response, next: NextFunction): void {
  parser(request, response, (error?: unknown) => {
    const fault = error === undefined ? unreadable(request.body) : null;
    if (fault !== null)
      answer(response, invalid(`Nothing was stored. ${fault}`, [{ path: '', message: fault }]).problem);
    else if (error === undefined) next();
    // What the body parser hands on is its own kind of error.
    else answer(response, bodyProblem(error as BodyError, BODY_LIMIT_BYTES));
  });
}

/** Answered here: an error that is handed on would be taken by whoever serves the page, for one of a file. */
const answer = (response: Response, problem: Problem): void =>
  void response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));

/** Source: the error types of the body-parser package, which Express reads bodies with. */
type BodyError = Error & { type?: string; length?: number; status?: number };

function bodyProblem(error: BodyError, limitBytes: number): Problem {
  switch (error.type) {
    case 'entity.too.large':
      return {
        type: PROBLEM.tooLarge,
        title: 'Too large',
        status: 413,
        detail: `The body is ${error.length === undefined ? 'too large' : `${megabytes(error.length)} MB`}; at most ${megabytes(limitBytes)} MB are taken. Nothing was stored.`,
      };
    case 'entity.parse.failed':
      return {
        type: PROBLEM.notJson,
        title: 'Not JSON',
        status: 400,
        detail: `The body is not JSON: ${error.message}. Nothing was stored.`,
      };
    default:
      return {
        type: PROBLEM.refused,
        title: 'Body refused',
        status: error.status ?? 400,
        detail: `The body could not be read: ${error.message}. Nothing was stored.`,
      };
  }
}

const megabytes = (bytes: number): string => (bytes / 1_000_000).toFixed(1);
