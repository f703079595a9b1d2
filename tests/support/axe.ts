import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/**
 * Runs axe in the page, once its place is there: one that is still being fetched has no heading yet.
 *
 * @returns each violation in one line; none is an empty list.
 */
export async function axeViolations(page: Page): Promise<string[]> {
  await page.waitForSelector('h1');
  await page.evaluate(source);
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: {
        run(): Promise<{
          violations: { id: string; help: string; nodes: { html: string; failureSummary?: string }[] }[];
        }>;
      };
    };
    const { violations } = await axe.run();
    return violations.flatMap((v) =>
      v.nodes.map(
        (n) => `${v.id}: ${v.help} at ${n.html.slice(0, 160)} ${n.failureSummary?.split('\n')[1] ?? ''}`,
      ),
    );
  });
}
