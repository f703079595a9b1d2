import { once } from 'node:events';
import type { Response } from 'express';

/** How many long answers are written at once; others wait, so that short questions find the database free. Our own choice. */
const AT_ONCE = 2;

/** Who reads nothing for so long is let go of, in ms. */
const PATIENCE_MS = 20_000;

let running = 0;
const waiting: (() => void)[] = [];

/** Waits for a turn among the long answers. @returns ends it. */
async function turn(): Promise<() => void> {
  if (running >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  else running++;
  return () => {
    const next = waiting.shift();
    if (next) next();
    else running--;
  };
}

/**
 * Answers with JSON in pieces, each written when the one before is on its way: however long it is, others get their turn
 * between. What fails before the first piece is a problem like any other; later the connection is cut, so that nobody
 * takes half of it for the whole.
 */
export async function streamJson(response: Response, pieces: AsyncGenerator<string>): Promise<void> {
  const end = await turn();
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
