import type { Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { PLAIN_PORT } from '@idle-step/core/gear';
import { demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { HeldRequests, openPage, pressButton, textIs, until, useApp } from './support/app';
import { bindPort, openWithPorts } from './support/ports';

const running = useApp();
const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const kept = async () =>
  (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc.devices.find(
    (d) => d.id === kelpline.id,
  )!;

describe('a chart from the wire', () => {
  it('is asked for and tried only once the rig is played, however slow the server is', async () => {
    const lists = new HeldRequests(/\/api\/(presets|sets)\b/);
    const page = await openPage(running.browser, running.app.base, `/rig/${kelpline.id}/chart`, lists.hold);
    const open = () =>
      page.evaluate(() =>
        [...document.querySelectorAll<HTMLButtonElement>('.detail button:not(:disabled)')].map(
          (b) => b.ariaLabel ?? b.textContent,
        ),
      );
    const cell = await page.waitForSelector('[role="gridcell"]');
    await cell!.click();
    await until('a row in hand', open, (names) => names.some((name) => name?.startsWith('Duplicate')));
    expect(await open()).not.toContain('Ask who it is');
    expect(await open()).not.toContain('Test send');
    lists.letCome();
    await until('the rig is played', open, (names) => names.includes('Ask who it is'));
    expect(await open()).toContain('Test send');
    expect(page.troubles).toEqual([]);
  });

  it('is offered by who a device says it is, and learned by moving each thing once', async () => {
    const { doc, version } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const back = {
      ...PLAIN_PORT,
      id: crypto.randomUUID(),
      name: 'Back',
      direction: 'out',
      link: 'usb',
      atComputer: true,
    };
    await fetch(`${running.app.base}/api/rigs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({
        ...doc,
        devices: doc.devices.map((d) => (d.id === kelpline.id ? { ...d, ports: [...d.ports, back] } : d)),
      }),
    });
    const page = await openWithPorts(running.browser, running.app.base, `/rig/${kelpline.id}/chart`);
    await pressButton(page, 'Ask who it is');
    await textIs(page, '.chart-identity', (t) => t.includes('Maker 7D, family 0A00, member 0001.'));
    await until('who it is', kept, (d) => d.identity === '7D 0A00 0001');
    await textIs(page, '.chart-identity', (t) =>
      t.includes('Take the chart of the stand-in (string processor)'),
    );
    expect(await axeViolations(page)).toEqual([]);
    const rows = (await kept()).chart.length;
    // What is there by its name is not taken twice.
    await page.locator('.chart-identity button::-p-text(Take the chart)').click();
    const more = await until('its rows', kept, (d) => d.chart.length >= rows && d.identity !== '');
    expect(new Set(more.chart.map((fn) => fn.name.toLowerCase())).size).toBe(more.chart.length);
    // Moved at a port that is bound to its own.
    await bindPort(page, 'Kelpline', 'Back', 'Twig small');
    await page.locator('.detail[aria-label="Kelpline"] [role="tab"]::-p-text(Chart)').click();
    await pressButton(page, 'Learn by moving');
    await textIs(page, '.chart-moving', (t) => t.includes('Move one thing of Kelpline'));
    const move = (...values: number[]) =>
      page.evaluate((all) => {
        const { midiFake } = window as unknown as { midiFake: { deliver(n: string, bytes: number[]): void } };
        for (const v of all) midiFake.deliver('Twig small', [0xb2, 111, v]);
      }, values);
    await move(0, 40, 90, 127);
    await textIs(page, '.chart-moving', (t) => t.includes('111') && t.includes('channel 3, a range'));
    expect(await axeViolations(page)).toEqual([]);
    await page.type('.chart-moving input', 'Sparkle');
    await page.keyboard.press('Enter');
    await textIs(page, '.chart-moving', (t) => t.includes('Sparkle is in the chart. Move the next thing.'));
    const { chart } = await until('the row', kept, (d) => d.chart.some((fn) => fn.name === 'Sparkle'));
    expect(chart.find((fn) => fn.name === 'Sparkle')).toMatchObject({
      drive: { kind: 'controller', controller: 111 },
      shape: { kind: 'range', min: 0, max: 127 },
      channel: null,
    });
    await move(127, 0);
    await textIs(page, '.chart-moving', (t) => t.includes('That is Sparkle already.'));
  });
});
