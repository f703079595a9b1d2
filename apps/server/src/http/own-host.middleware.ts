import type { NextFunction, Request, Response } from 'express';
import { PROBLEM, type Problem } from '@idle-step/contract';
import { nth } from '@idle-step/core/sure';

/**
 * Answers only requests that name this server as Host and, where they come from a page, as Origin. Other pages in
 * the same browser could otherwise write here, or read by pointing a name of theirs at loopback.
 */
export const onlyOwnHost =
  (port: () => number) => (request: Request, response: Response, next: NextFunction) => {
    const hosts = [`127.0.0.1:${port()}`, `localhost:${port()}`];
    const origin = request.headers.origin;
    const isOwn =
      hosts.includes(request.headers.host ?? '') &&
      (origin === undefined || hosts.some((h) => origin === `http://${h}`)) &&
      request.headers['sec-fetch-site'] !== 'cross-site';
    if (isOwn) {
      next();
      return;
    }
    const problem: Problem = {
      type: PROBLEM.refused,
      title: 'Refused',
      status: 403,
      detail: `This server answers only pages of its own, at http://${nth(hosts, 0)}.`,
    };
    response.status(403).type('application/problem+json').send(JSON.stringify(problem));
  };
