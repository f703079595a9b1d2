import type { Page } from 'puppeteer-core';
import { openPage, type useApp } from '../tests/support/app';
import { bindPort, openWithPorts, plugIn } from '../tests/support/ports';

/**
 * A page that is fresh, with ports of the rig bound. They are bound in another one, as a test does it: looking for what
 * is pressed by the name that assistive tools read has the browser keep a tree of such names from then on, which has its
 * part in every drawing.
 * @param ports device, its port, the browser's port.
 */
export async function openBound(
  { browser, app }: Pick<ReturnType<typeof useApp>, 'browser' | 'app'>,
  path: string,
  ports: readonly (readonly [device: string, port: string, name: string])[],
  before?: (page: Page) => Promise<unknown>,
): Promise<Page> {
  const binding = await openWithPorts(browser, app.base, '/rig');
  for (const port of ports) await bindPort(binding, ...port);
  const bindings = await binding.evaluate(() => localStorage.getItem('idle-step.ports') ?? '{}');
  await binding.close();
  return openPage(browser, app.base, path, async (page) => {
    await plugIn(page, JSON.parse(bindings) as Record<string, string>);
    await before?.(page);
  });
}
