import type { Page } from 'puppeteer-core';

/** Reads of where playing stands, in a page in which `lateDisk` runs. */
type Late = { asked: number; read: number; isTold: boolean; waiting: (() => void)[] };

/**
 * Has the browser's disk answer late when it is asked where playing stands. Runs in the page.
 *
 * @param ms how late; `null` for as late as `answerNow` says.
 */
export function lateDisk(ms: number | null): void {
  const late: Late = { asked: 0, read: 0, isTold: false, waiting: [] };
  Object.assign(window, { late });
  const { addEventListener } = EventTarget.prototype;
  IDBRequest.prototype.addEventListener = function (this: IDBRequest, type: string, hear: EventListener) {
    const isOfNow =
      this.source instanceof IDBObjectStore &&
      this.source.name === 'now' &&
      this.transaction?.mode === 'readonly';
    if (type !== 'success' || !isOfNow) return addEventListener.call(this, type, hear);
    late.asked++;
    addEventListener.call(this, type, (event) => {
      const answer = () => {
        late.read++;
        hear.call(this, event);
      };
      if (ms !== null) setTimeout(answer, ms);
      else if (late.isTold) answer();
      else late.waiting.push(answer);
    });
  } as IDBRequest['addEventListener'];
}

/** How often the disk was asked, and answered. */
export const reads = (page: Page): Promise<{ asked: number; read: number }> =>
  page.evaluate(() => {
    const { asked, read } = (window as unknown as { late: Late }).late;
    return { asked, read };
  });

/** The disk of a page answers, and from now on at once. */
export const answerNow = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const { late } = window as unknown as { late: Late };
    late.isTold = true;
    for (const answer of late.waiting.splice(0)) answer();
  });
