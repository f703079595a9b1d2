import { appendFileSync } from 'node:fs';

/** Says what a bench does now, to whoever waits for it. */
export function doing(what: string): void {
  const heard = process.env['BENCH_SAYS'];
  if (heard) appendFileSync(heard, `${what}\n`);
}
