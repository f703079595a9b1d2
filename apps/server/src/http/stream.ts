import { once } from 'node:events';
import type { Response } from 'express';
import { got } from '@idle-step/core/sure';

/** Who reads nothing for so long is let go of, in ms. */
const PATIENCE_MS = 20_000;

/** Of each kind one long answer is written at a time; others of its kind wait, so that short questions find the database free. */
const lanes = new Map<string, (() => void)[]>();

/** Waits for a turn among the long answers of a kind. @returns ends it. */
async function turn(kind: string): Promise<() => void> {
  const waiting = lanes.get(kind);
  if (waiting) await new Promise<void>((resolve) => waiting.push(resolve));
  else lanes.set(kind, []);
  return () => {
    const next = got(lanes, kind).shift();
    if (next) next();
    else lanes.delete(kind);
  };
}

/**
 * Answers with JSON in pieces, each written when the one before is on its way: however long it is, others get their turn
 * between. What fails before the first piece is a problem like any other; later the connection is cut, so that nobody
 * takes half of it for the whole.
 * @param kind of which one is written at a time.
 */
export async function streamJson(
  response: Response,
  kind: string,
  pieces: AsyncGenerator<string>,
): Promise<void> {
  const end = await turn(kind);
  try {
    const first = await pieces.next();
    response.setHeader('content-type', 'application/json; charset=utf-8');
    for (let piece = first; !piece.done; piece = await pieces.next()) {
      if (response.destroyed) break;
      if (!response.write(piece.value)) await drained(response);
    }
    response.end();
  } catch (error) {
    if (!response.headersSent) throw error;
    response.destroy();
  } finally {
    await pieces.return(undefined);
    end();
  }
}

/** Waits until there is room again, or nobody reads any more. */
async function drained(response: Response): Promise<void> {
  const stop = new AbortController();
  const timer = setTimeout(() => response.destroy(), PATIENCE_MS);
  const { signal } = stop;
  await Promise.race([once(response, 'drain', { signal }), once(response, 'close', { signal })]);
  clearTimeout(timer);
  stop.abort();
}

/** A list of JSON values, comma by comma; each piece is one text. */
export async function* jsonList(chunks: AsyncIterable<readonly unknown[]>): AsyncGenerator<string> {
  let before = '[';
  for await (const chunk of chunks) {
    if (chunk.length === 0) continue;
    yield before + chunk.map((value) => JSON.stringify(value)).join(',');
    before = ',';
  }
  yield before === '[' ? '[]' : ']';
}
