import { HttpException } from '@nestjs/common';
import { PROBLEM, type Problem, type ProblemUser } from '@idle-step/contract';

/** An error that goes out as `application/problem+json`. Source: RFC 9457. */
export class ProblemException extends HttpException {
  constructor(readonly problem: Problem) {
    super(problem.detail, problem.status);
  }
}

export const invalid = (detail: string, errors: NonNullable<Problem['errors']>): ProblemException =>
  new ProblemException({ type: PROBLEM.invalid, title: 'Not valid', status: 422, detail, errors });

export const gone = (what: string, id: string): ProblemException =>
  new ProblemException({
    type: PROBLEM.gone,
    title: 'Gone',
    status: 404,
    detail: `There is no ${what} ${id}; it may have been deleted in another window.`,
  });

export const stale = (
  what: string,
  given: number,
  current: { version: number; savedAt: string },
): ProblemException =>
  new ProblemException({
    type: PROBLEM.stale,
    title: 'Changed meanwhile',
    status: 409,
    detail: `This ${what} was saved elsewhere at ${current.savedAt}: it is at version ${current.version}, and this change was made from version ${given}. Nothing was stored; both texts are still there.`,
    current,
  });

export const inUse = (detail: string, users: ProblemUser[]): ProblemException =>
  new ProblemException({ type: PROBLEM.inUse, title: 'In use', status: 409, detail, users });

export const versionMissing = (what: string): ProblemException =>
  new ProblemException({
    type: PROBLEM.versionMissing,
    title: 'Version missing',
    status: 428,
    detail: `Say which version of the ${what} this change was made from: the header If-Match with the ETag that came with it.`,
  });

export const taken = (why: string): ProblemException =>
  new ProblemException({
    type: PROBLEM.taken,
    title: 'Cannot be stored so',
    status: 409,
    detail: `Nothing was stored. ${why}`,
  });
