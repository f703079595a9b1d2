import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

type Axe = {
  run(options?: { runOnly: string[] }): Promise<{
    violations: { id: string; help: string; nodes: { html: string; failureSummary?: string }[] }[];
  }>;
};

/**
 * Runs axe in the page, once its place is there: one that is still being fetched has no heading yet. Contrast is looked
 * at in the other theme too.
 *
 * @returns each violation in one line; none is an empty list.
 */
export async function axeViolations(page: Page): Promise<string[]> {
  await page.waitForSelector('h1');
  await page.evaluate(source);
  return page.evaluate(async () => {
    const { axe } = window as unknown as { axe: Axe };
    const said = async (theme: string, options?: { runOnly: string[] }) =>
      (await axe.run(options)).violations.flatMap((v) =>
        v.nodes.map(
          (n) =>
            `${v.id}${theme}: ${v.help} at ${n.html.slice(0, 160)} ${n.failureSummary?.split('\n')[1] ?? ''}`,
        ),
      );
    const here = await said('');
    const root = document.documentElement.dataset;
    const theme = root['bsTheme'];
    const other = theme === 'dark' ? 'light' : 'dark';
    root['bsTheme'] = other;
    try {
      return [...here, ...(await said(` (${other})`, { runOnly: ['color-contrast'] }))];
    } finally {
      if (theme === undefined) delete root['bsTheme'];
      else root['bsTheme'] = theme;
    }
  });
}
