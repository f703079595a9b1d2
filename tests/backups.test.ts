import type { Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const rigs = async () => (await running.app.get<Kept<FullRig>[]>('/rigs')).map((k) => k.doc.name);

describe('backups', () => {
  it('are made on request, looked into, and restored beside what is there', async () => {
    const page = await openPage(running.browser, running.app.base, '/rigs/backups');
    await textIs(
      page,
      '.backups-place',
      (t) => t.includes(running.app.backupFolder) && t.includes('There is none yet.'),
    );
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Back up everything now');
    await textIs(page, '.backup', (t) => t.includes('by hand, 1 rig'));
    await pressButton(page, 'Look inside');
    await textIs(page, '.backup-rigs', (t) => t.includes(demoRig.name) && /\d+ songs/.test(t));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Restore beside what is here');
    await until('the rigs', rigs, (names) => names.length === 2);
    expect((await rigs()).find((n) => n !== demoRig.name)).toMatch(
      new RegExp(`^${demoRig.name} of \\d+ \\w+$`),
    );
  });
});
