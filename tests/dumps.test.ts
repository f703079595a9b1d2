import type { GearRecord, Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { PLAIN_PORT } from '@idle-step/core/gear';
import { demoRig } from '@idle-step/demo';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { bindPort, fake, openWithPorts, type Fake } from './support/ports';
import { fill, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const dumps = async () =>
  (await running.app.get<GearRecord[]>(`/records?rigId=${demoRig.id}`)).filter((r) => r.what.kind === 'dump');

describe('dumps of a device', () => {
  it('are asked for, kept, compared and sent back', async () => {
    const page = await openPage(running.browser, running.app.base, `/rig/${kelpline.id}/dumps`);
    await textIs(page, '.dumps-room', (t) => t.includes('No dump of Kelpline is kept yet.'));
    await pressButton(page, 'That of its stand-in');
    await pressButton(page, 'Ask Kelpline');
    await textIs(page, '.dumps-room .field-error', (t) =>
      t.includes('No cable leads from Kelpline to the computer'),
    );
    // With an out by USB.
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    const { doc, version } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const out = {
      ...PLAIN_PORT,
      id: crypto.randomUUID(),
      name: 'Back',
      direction: 'out',
      link: 'usb',
      atComputer: true,
    };
    const answer = await fetch(`${running.app.base}/api/rigs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({
        ...doc,
        devices: doc.devices.map((d) => (d.id === kelpline.id ? { ...d, ports: [...d.ports, out] } : d)),
      }),
    });
    expect(answer.status).toBe(200);
    await page.reload();
    // The page has its own last rig first and then the server's: pressed until that one is here.
    await until(
      'a dump',
      async () => {
        if ((await page.$('.dump-running')) === null) {
          await pressButton(page, 'Ask Kelpline');
          await page.waitForSelector('.dump-running, .dumps-room .field-error');
        }
        return dumps();
      },
      (all) => all.length === 1,
    );
    await textIs(page, '.dump-running', (t) => t.includes('Kelpline: done'));
    // Something is played, and it is asked again.
    await page.locator('.dock [data-control="far 1"]').click();
    await pressButton(page, 'Ask Kelpline');
    await until('two dumps', dumps, (all) => all.length === 2);
    await textIs(page, '.dump-running', (t) => t.includes('Kelpline: done'));
    expect(await axeViolations(page)).toEqual([]);
    const boxes = await page.$$('.dump-list input[type="checkbox"]');
    for (const box of boxes) await box.click();
    await textIs(page, '.dumps-room [aria-label="Compared"]', (t) => /\d+ bytes differ/.test(t));
    expect(await axeViolations(page)).toEqual([]);
    // Sent back, it is what it was before.
    await page.locator('.dump-list li:last-child button[aria-label$="back"]').click();
    await textIs(page, '.dump-running', (t) => t.includes('Kelpline: done'));
    await pressButton(page, 'Ask Kelpline');
    const all = await until('three dumps', dumps, (list) => list.length === 3);
    const bytes = all.map((r) => (r.what.kind === 'dump' ? r.what.bytes : ''));
    expect([bytes[0] === bytes[2], bytes[0] === bytes[1]]).toEqual([true, false]);
    // Named, and deleted with a way back.
    const name = all[0]!.what.kind === 'dump' ? all[0]!.what.name : '';
    await fill(page, `Name of ${name}`, 'Before the tour').catch(async () => {
      const input = await page.$(
        '.dump-list li:first-child input[type="text"], .dump-list li:first-child input:not([type])',
      );
      await input!.click({ count: 3 });
      await page.keyboard.type('Before the tour');
      await page.keyboard.press('Enter');
    });
    await until('the name', dumps, (list) =>
      list.some((r) => r.what.kind === 'dump' && r.what.name === 'Before the tour'),
    );
    await pressButton(page, 'Delete Before the tour');
    await until('two again', dumps, (list) => list.length === 2);
    await pressButton(page, 'Undo');
    await until('three again', dumps, (list) => list.length === 3);
    await pressButton(page, 'Back up the rig: ask 1 device');
    await until('four', dumps, (list) => list.length === 4);
  });

  it('of real gear go on in a hidden window; where its port goes in the middle, that is said', async () => {
    const { doc, version } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const answer = await fetch(`${running.app.base}/api/rigs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({
        ...doc,
        devices: doc.devices.map((d) => (d.id === kelpline.id ? { ...d, standIn: null } : d)),
      }),
    });
    expect(answer.status).toBe(200);
    const before = (await dumps()).length;
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Kelpline', 'Back', 'Blue box 1');
    await page.goto(`${running.app.base}/rig/${kelpline.id}/dumps`);
    const says = (...bytes: number[]) =>
      page.evaluate(
        (b) => (window as unknown as { midiFake: Fake }).midiFake.deliver('Blue box 1', b),
        bytes,
      );
    await pressButton(page, 'Ask Kelpline');
    // No port is bound that leads to it: nothing was asked.
    await textIs(page, '.dump-running', (t) => t.includes('no open port leads there now'));
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    await page.goto(`${running.app.base}/rig/${kelpline.id}/dumps`);
    await textIs(page, '.dumps-room', (t) => t.includes('Ask Kelpline'));
    const other = await page.browserContext().newPage();
    await other.bringToFront();
    const asked = async () =>
      (await fake(page, (f) => f.sent('Blue box A'))).filter(([b]) => b === 0xf0).length;
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find((b) => b.textContent.includes('Ask Kelpline'))?.click(),
    );
    await until('the question', asked, (n) => n === 1);
    await says(0xf0, 0x7d, 1, 2, 3, 0xf7);
    await says(0xf0, 0x7d, 4, 0xf7);
    await until('one more', dumps, (all) => all.length === before + 1);
    const bytes = (await dumps()).flatMap(({ what }) => (what.kind === 'dump' ? what.bytes : []));
    expect(bytes).toContain(Buffer.from([0xf0, 0x7d, 1, 2, 3, 0xf7, 0xf0, 0x7d, 4, 0xf7]).toString('base64'));
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find((b) => b.textContent.includes('Ask Kelpline'))?.click(),
    );
    await until('the second question', asked, (n) => n === 2);
    await says(0xf0, 0x7d, 1, 2, 3, 0xf7);
    await fake(page, (f) => f.unplug('Blue box 1'));
    await textIs(page, '.dump-running', (t) => t.includes('no open port leads there now'));
    expect(await dumps()).toHaveLength(before + 1);
    await other.close();
  });

  it('that the server refuses is said, with its sentence', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'idle-step-dumps-'));
    const path = join(folder, 'refused.syx');
    writeFileSync(path, Uint8Array.of(0xf0, 0x7d, 1, 2, 0xf7));
    const before = (await dumps()).length;
    const page = await openPage(running.browser, running.app.base, `/rig/${kelpline.id}/dumps`, async (p) => {
      await p.setRequestInterception(true);
      p.on('request', (request) => {
        const isRecord = request.method() === 'PUT' && request.url().includes('/api/records/');
        // Spoiled on its way: the server itself refuses it.
        void request.continue(
          isRecord ? { postData: request.postData()!.replace(/"rigId":"[^"]*"/, '"rigId":"none"') } : {},
        );
      });
    });
    const input = (await page.waitForSelector('.dumps-room input[type="file"]'))!;
    await (input as unknown as { uploadFile(p: string): Promise<void> }).uploadFile(path);
    await textIs(
      page,
      '.dumps-room .field-error',
      (t) => t.includes('The server did not keep this') && t.includes('rigId'),
    );
    expect(await dumps()).toHaveLength(before);
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Dismiss');
    await until(
      'dismissed',
      async () => (await page.$('.dumps-room .field-error')) === null,
      (isGone) => isGone,
    );
  });
});
