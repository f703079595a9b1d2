import { PROBLEM } from '@idle-step/contract';
import { expect, it } from 'vitest';
import { isGone } from './isGone';

const answer = (status: number, body: string) => new Response(body, { status });

it.each([
  ['what is gone', answer(404, JSON.stringify({ type: PROBLEM.gone, status: 404 })), true],
  // A proxy, another server at that port, or one whose page answers for everything.
  ['nothing at this address', answer(404, JSON.stringify({ type: PROBLEM.refused, status: 404 })), false],
  ['a page', answer(404, '<!doctype html>'), false],
  ['nothing', answer(404, ''), false],
  ['null', answer(404, 'null'), false],
  ['another status', answer(500, JSON.stringify({ type: PROBLEM.gone })), false],
])('%s', async (_what, response, gone) => expect(await isGone(response)).toBe(gone));
