import { readFileSync } from 'node:fs';
import type { Browser, Page } from 'puppeteer-core';
import { choose, openPage, pressButton, textIs } from './app';

/** The other end of the cables of the page's MIDI system. */
export type Fake = {
  deliver(name: string, bytes: number[], atMs?: number): void;
  sent(name: string): number[][];
  unplug(name: string): void;
  hold(name: string, isHeld: boolean): void;
  plug(name: string): void;
};

export const FAKE_SOURCE = readFileSync(new URL('./midiFake.js', import.meta.url), 'utf8');

export const fake = <T>(page: Page, run: (f: Fake) => T): Promise<T> =>
  page.evaluate(
    (text) => (0, eval)(`(${text})`)((window as unknown as { midiFake: Fake }).midiFake) as T,
    String(run),
  );

/** Hexadecimal pairs, one text a message. */
export const hexOf = (messages: number[][]) =>
  messages.map((m) => m.map((b) => b.toString(16).toUpperCase().padStart(2, '0')).join(' '));

/** The fake is there from the first script on, with the rig's ports bound to its own by name. */
export async function plugIn(page: Page, bindings: Readonly<Record<string, string>>): Promise<void> {
  await page.evaluateOnNewDocument(FAKE_SOURCE);
  await page.evaluateOnNewDocument((ports) => {
    localStorage.setItem('idle-step.ports', ports);
    localStorage.setItem('idle-step.ports-wanted', 'true');
  }, JSON.stringify(bindings));
}

/** A page with the fake in place and its ports opened, none bound yet. */
export async function openWithPorts(browser: Browser, base: string, path: string) {
  const page = await openPage(browser, base, path, (p) => p.evaluateOnNewDocument(FAKE_SOURCE));
  await openPorts(page);
  return page;
}

export async function openPorts(page: Page): Promise<void> {
  await pressButton(page, 'Open ports');
  await textIs(page, '.ports-word', (t) => t === 'No port bound yet');
}

/** Picks a device on the map and, once it is the one shown, opens one of its rooms. */
export async function openRoom(page: Page, device: string, room: string): Promise<void> {
  await page.locator(`.device-card ::-p-text(${device})`).click();
  await page.locator(`.detail[aria-label="${device}"] [role="tab"]::-p-text(${room})`).click();
}

/** Binds a port of the rig to one of the browser's, in the place Rig. */
export async function bindPort(page: Page, device: string, port: string, name: string): Promise<void> {
  await openRoom(page, device, 'Ports');
  await page.waitForSelector(`[aria-label="Ports of ${device}"]`);
  await choose(page, `Browser’s port for ${port}`, name);
}

/** A foot presses a switch for 30 ms, however slow the computer is: a controller at 127 and at 0. @param status its first byte. */
export const footPress = (page: Page, port: string, status: number, number: number): Promise<void> =>
  page.evaluate(
    (name, first, second) => {
      const { deliver } = (window as unknown as { midiFake: Fake }).midiFake;
      const now = performance.now();
      deliver(name, [first, second, 127], now - 30);
      deliver(name, [first, second, 0], now);
    },
    port,
    status,
    number,
  );
