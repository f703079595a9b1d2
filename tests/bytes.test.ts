import type { Song } from '@idle-step/core/show';
import { parseBytes } from '@idle-step/core/midi';
import { demoRig } from '@idle-step/demo';
import { createRequire } from 'node:module';
import { Message as WebMidiMessage } from 'webmidi';
import { beforeAll, describe, expect, it } from 'vitest';
import { chord, choose, openPage, pressButton, textIs, until, useApp } from './support/app';
import { bindPort, fake, hexOf, openRoom, openWithPorts } from './support/ports';

/**
 * The walk through a set with bytes from outside. The lists are written out by hand from the cue sheets of the demo
 * and the published formats: controller Bn, program Cn (MIDI 1.0 Detailed Specification), transport and masked
 * write of track record-ready (RP-013); from memory.
 */
const TO_PROCESSOR = [
  // Heron: Still, Rising, Away
  'C2 03',
  'B2 16 00',
  'B2 5B 3C',
  'B2 16 05',
  'B2 5B 54',
  'B2 14 1E',
  'B2 16 00',
  'B2 5B 6E',
  'B2 14 00',
  // Low Water: Intro, Verse, Outro
  'C2 0D',
  'B2 16 00',
  'B2 5B 28',
  'B2 16 01',
  'B2 16 00',
  'B2 5B 5A',
  // Slow Ferry: Intro (the program stays), Verse, Chorus, both again, Bridge, Outro
  'B2 5B 28',
  'B2 16 01',
  'B2 16 02',
  'B2 5B 58',
  'B2 16 01',
  'B2 5B 28',
  'B2 16 02',
  'B2 5B 58',
  'C2 14',
  'B2 16 00',
  'B2 5B 58',
  'C2 0D',
  'B2 16 01',
  'B2 5B 70',
  // Salt Stairs: Verse, Stairs, Landing
  'C2 08',
  'B2 16 00',
  'B2 5B 2C',
  'B2 16 04',
  'B2 1B 7F',
  'B2 16 00',
  'B2 5B 4C',
  'B2 1B 00',
  // Lantern Home: Verse, Chorus, All, Home
  'C2 0D',
  'B2 16 01',
  'B2 5B 24',
  'B2 16 02',
  'B2 5B 48',
  'B2 16 03',
  'C2 03',
  'B2 16 00',
  'B2 5B 5A',
];
const TO_HOST = [
  // play, by the small board
  'F0 7F 7F 06 02 F7',
  // Heron Still arms the bow; Low Water Verse the voice, and its Outro lets it go
  'B0 66 7F',
  'B0 67 00',
  'B0 67 7F',
  'B0 67 00',
  // Slow Ferry: Verse, Bridge, Outro
  'B0 67 7F',
  'B0 15 60',
  // (what is let go comes last)
  'B0 15 50',
  'B0 66 00',
  'B0 66 7F',
  'B0 67 00',
  // Salt Stairs Verse; Lantern Home All and Home
  'B0 67 7F',
  'B0 68 7F',
  'B0 15 6E',
  'B0 67 00',
  'B0 68 00',
  // stop, by the small board; then track 4 record-ready by the third bank of the foot board
  'F0 7F 7F 06 01 F7',
  'F0 7F 7F 06 41 04 4F 01 02 02 F7',
];
const SCENES = 3 + 3 + 7 + 3 + 4;

const running = useApp();

/** The list is of values that are set at once: the songs of the set come without their glides and changes of tempo. */
beforeAll(async () => {
  for (const { doc, version } of await running.app.get<{ doc: Song; version: number }[]>('/songs')) {
    const scenes = doc.scenes.map((s) => ({ ...s, transition: null, tempoBpm: null }));
    const answer = await fetch(`${running.app.base}/api/songs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({ ...doc, scenes }),
    });
    expect(answer.status).toBe(200);
  }
});

/** A page with the fake in place, its ports opened and bound to the rig's, the short set in play. */
async function openBound(path: string) {
  const page = await openWithPorts(running.browser, running.app.base, '/rig');
  const bind = (device: string, port: string, browserPort: string) =>
    bindPort(page, device, port, browserPort);
  await bind('Crossbar', 'In 1', 'Blue box 1');
  await bind('Crossbar', 'Out A', 'Blue box A');
  await bind('Twig 4', 'USB', 'Twig small');
  await bind('Deckhouse', 'Host in', 'Laptop bus');
  await textIs(page, '.ports-word', (t) => t === '2 in, 2 out');
  const short = await page.$eval(
    '.where select',
    (e) => [...(e as HTMLSelectElement).options].find((o) => o.text.startsWith('Weir mill'))!.value,
  );
  await page.select('.where select', short);
  await textIs(page, '.where', (t) => t.includes('Heron'));
  await page.goto(running.app.base + path);
  // Bytes that come before the rig was fetched would meet an empty floor.
  await page.waitForSelector('[data-control="far 1"]');
  return page;
}

describe('a set walked with bytes from outside', () => {
  it('sends exactly the bytes that stand in the list, and a general-purpose library reads them the same', async () => {
    const page = await openBound('/stage');
    await textIs(page, '.stage-foot', (t) => t.includes('2 in, 2 out'));
    // Note 38 on channel 15, its note-off as a note-on of velocity 0 in running status.
    await fake(page, (f) => f.deliver('Twig small', [0x9e, 0x26, 0x7f, 0x26, 0x00]));
    for (let i = 0; i < SCENES; i++) {
      // Controller 35 on channel 16: the status only once, active sensing between any two bytes, cut anywhere.
      if (i === 0) await fake(page, (f) => f.deliver('Blue box 1', [0xfe, 0xbf, 0xfe, 0x23]));
      else await fake(page, (f) => f.deliver('Blue box 1', [0x23, 0xfe]));
      await fake(page, (f) => f.deliver('Blue box 1', [0x7f, 0x23, 0xf8, 0x00]));
      // The foot rests until the gear has settled.
      await new Promise((resolve) => setTimeout(resolve, 160));
    }
    await textIs(page, '[data-testid="stage-now"]', (t) => t === 'Home');
    await fake(page, (f) => f.deliver('Twig small', [0x27, 0x7f, 0x27, 0x00]));
    // Far 5 twice turns to the third bank; near 2 there makes track 4 record-ready.
    await fake(page, (f) =>
      f.deliver('Blue box 1', [0xbf, 0x28, 0x7f, 0x28, 0, 0x28, 0x7f, 0x28, 0, 0x20, 0x7f, 0x20, 0]),
    );
    const toHost = await until(
      'host',
      () => fake(page, (f) => f.sent('Laptop bus')),
      (s) => s.length >= TO_HOST.length,
    );
    const toProcessor = await fake(page, (f) => f.sent('Blue box A'));
    expect(hexOf(toProcessor)).toEqual(TO_PROCESSOR);
    expect(hexOf(toHost)).toEqual(TO_HOST);
    expect(page.troubles).toEqual([]);

    // Witness 1: webmidi 3.3.1 decodes framed messages. Witness 2: jzz 1.9.6, by its own words for them.
    const JZZ = createRequire(import.meta.url)('jzz') as {
      MIDI: new (b: number[]) => { getChannel(): number; toString(): string };
    };
    for (const bytes of [...toProcessor, ...toHost]) {
      const [ours] = parseBytes(bytes).messages;
      const theirs = new WebMidiMessage(Uint8Array.from(bytes));
      if (ours!.kind === 'controller')
        expect([theirs.type, theirs.channel, ...theirs.dataBytes]).toEqual([
          'controlchange',
          ours.channel + 1,
          ours.controller,
          ours.value,
        ]);
      else if (ours!.kind === 'program')
        expect([theirs.type, theirs.channel, ...theirs.dataBytes]).toEqual([
          'programchange',
          ours.channel + 1,
          ours.program,
        ]);
      else expect([ours!.kind, theirs.type]).toEqual(['sysex', 'sysex']);
      expect(new JZZ.MIDI(bytes).toString().toUpperCase()).toContain(
        bytes
          .map((b) => b.toString(16).padStart(2, '0'))
          .join(' ')
          .toUpperCase(),
      );
      if ('channel' in ours!) expect(new JZZ.MIDI(bytes).getChannel()).toBe(ours.channel);
    }
  });

  it('an input unplugged and plugged in again is bound again, and no message is doubled', async () => {
    const page = await openBound('/rig');
    await textIs(page, '.ports-word', (t) => t === '2 in, 2 out');
    await fake(page, (f) => f.unplug('Blue box 1'));
    await textIs(page, '.ports-word', (t) => t === '1 in, 2 out');
    await fake(page, (f) => f.plug('Blue box 1'));
    await textIs(page, '.ports-word', (t) => t === '2 in, 2 out');
    const before = (await fake(page, (f) => f.sent('Blue box A'))).length;
    await fake(page, (f) => f.deliver('Blue box 1', [0xbf, 0x24, 0x7f]));
    const sent = await until(
      'drive',
      () => fake(page, (f) => f.sent('Blue box A')),
      (s) => s.length > before,
    );
    expect(hexOf(sent.slice(before))).toEqual(['B2 18 7F']);
  });

  it('panic ends notes and cuts tails, and leaves the tails of a device that is to keep them', async () => {
    const page = await openBound('/rig');
    await textIs(page, '.ports-word', (t) => t === '2 in, 2 out');
    /** What the processor, on channel 3, gets of one press. */
    const panic = async (last: string) => {
      const sent = async () => hexOf(await fake(page, (f) => f.sent('Blue box A')));
      const before = (await sent()).length;
      await pressButton(page, 'Panic');
      const fresh = await until(
        'silence',
        async () => (await sent()).slice(before),
        (messages) => messages.includes(last),
      );
      return fresh.filter((m) => m.startsWith('B2'));
    };
    expect(await panic('B2 78 00')).toEqual(['B2 40 00', 'B2 7B 00', 'B2 78 00']);
    await openRoom(page, 'Kelpline', 'Device');
    await choose(page, 'At panic', 'only all notes off');
    expect(await panic('B2 7B 00')).toEqual(['B2 40 00', 'B2 7B 00']);
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await chord(page, 'Control', 'z');
    await until(
      'undone',
      () => page.$$eval('select', (list) => list.map((l) => l.selectedOptions[0]?.text)),
      (chosen) => !chosen.includes('only all notes off'),
    );
    expect(await panic('B2 78 00')).toEqual(['B2 40 00', 'B2 7B 00', 'B2 78 00']);
    expect(page.troubles).toEqual([]);
  });

  it('the bindings are remembered, and the ports open by themselves on the next visit', async () => {
    const page = await openBound('/rig');
    await page.reload();
    await textIs(page, '.ports-word', (t) => t === '2 in, 2 out');
  });
});

describe('a browser without MIDI', () => {
  it('says so in one sentence when its MIDI system does not start, and all works with the stand-ins', async () => {
    const page = await openPage(
      running.browser,
      running.app.base,
      `/rig/${demoRig.devices.find((d) => d.name === 'Crossbar')!.id}/ports`,
      (p) =>
        p.evaluateOnNewDocument(() => {
          navigator.requestMIDIAccess = () =>
            Promise.reject(
              new DOMException('Platform dependent initialization failed.', 'InvalidStateError'),
            );
        }),
    );
    await pressButton(page, 'Open ports');
    await textIs(page, '.ports-word', (t) => t === 'stand-ins only');
    const sentence = 'The MIDI system of this computer did not start; everything works with the stand-ins.';
    await textIs(page, '.port-list', (t) => t.includes(sentence));
    await page.locator('[data-control="near 5"]').click();
    await textIs(page, '.where', (t) => t.endsWith('Intro'));
    expect(page.troubles).toEqual([]);
  });
});
