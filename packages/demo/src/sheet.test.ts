import { type Song, armingFinding } from '@idle-step/core/show';
import { SongSchema } from '@idle-step/contract';
import { demoPresets, demoRig, demoSongs } from '@idle-step/demo';
import { compileWorld } from '@idle-step/core/engine';
import { describe, expect, it } from 'vitest';
import {
  allCueRows,
  copiedCells,
  cueCell,
  cueRows,
  sheetState,
  withFilledRight,
  withoutCells,
  withPasted,
  withTyped,
  type CueRow,
} from '@idle-step/core/sheet';

const song = demoSongs.find((s) => s.name === 'Slow Ferry')!;
const all = allCueRows(demoRig, demoPresets);
const row = (title: string, device?: string): CueRow =>
  all.find((r) => r.title === title && (!device || (r.kind === 'function' && r.device.name === device)))!;
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [song] });
const armingOf = (doc: Song, sheet: ReturnType<typeof sheetState>, i: number) =>
  armingFinding(doc, sheet.cells[i]!, world.arming, i)?.sentence ?? null;
const said = (doc: Song, line: CueRow, i: number) => cueCell(line, doc, sheetState(doc, world), i);
const typed = (line: CueRow, i: number, text: string, doc: Song = song): Song => {
  const next = withTyped(doc, line, i, text);
  if (typeof next === 'string') throw new Error(next);
  expect(SongSchema.safeParse(next).success).toBe(true);
  return next;
};

describe('a cell of the cue sheet', () => {
  const bank = all.find((r) => r.kind === 'bank')! as CueRow & { kind: 'bank' };
  const route = all.find((r) => r.kind === 'route' && r.part === 'route')!;
  const gate = all.find((r) => r.kind === 'route' && r.part === 'gate')!;
  it.each([
    ['a name', row('Snapshot', 'Kelpline'), 'Swirl', '6 Swirl'],
    ['a number as people see it', row('Snapshot', 'Kelpline'), '3', '3 Full'],
    ['a switch', row('Echo', 'Kelpline'), 'on', 'on'],
    ['a tempo', row('Song tempo'), '132 bpm', '132'],
    ['tracks by their names', row('Armed tracks'), 'voice, Bow', 'Bow, Voice'],
    ['no track', row('Armed tracks'), 'none', 'none'],
    ['a bank by its number', bank, '2', expect.stringMatching(/^2 /) as string],
    ['a bank by its name', bank, bank.names[1]!, expect.stringMatching(/^2 /) as string],
    ['a route', route, 'off', 'off'],
    ['a gate', gate, 'closed', 'closed'],
    ['a remark', row('Remark'), 'capo 2', 'capo 2'],
  ])('takes %s', (_what, line, text, shown) => {
    const next = typed(line, 2, text);
    expect(said(next, line, 2)).toMatchObject({ text: shown, setIn: 2 });
    // What is shown can be typed, pasted and filled again.
    expect(typed(line, 3, said(next, line, 2)!.text, next).scenes[3]).toBeDefined();
    // A dash carries it over again.
    expect(typed(line, 2, '-', next).scenes[2]).toEqual(typed(line, 2, '', song).scenes[2]);
  });

  it.each([
    [row('Snapshot', 'Kelpline'), '9', '1 to 8'],
    [row('Echo', 'Kelpline'), 'maybe', 'on or off'],
    [row('Song tempo'), '10', '20 to 400 bpm'],
    [bank, '99', '1 to'],
    [route, 'open-ish', 'on or off'],
    [gate, 'ajar', 'open or closed'],
  ])('refuses what it cannot be, with what would be right (%#)', (line, text, right) =>
    expect(withTyped(song, line, 0, text)).toContain(right),
  );

  it('says where a value comes from, and that one was set to what it is anyway', () => {
    const wash = row('Reverb mix', 'Kelpline');
    expect([0, 1, 2].map((i) => said(song, wash, i)!.setIn)).toEqual([0, 0, 2]);
    expect(said(song, wash, 1)!.isHeld).toBe(false);
    expect(said(typed(wash, 1, '40'), wash, 1)).toMatchObject({ setIn: 1, isHeld: true });
  });

  it('a trigger and a remark stand in their own scene only', () => {
    const play = row('Play', 'Deckhouse');
    const next = typed(play, 1, 'send');
    expect([0, 1, 2].map((i) => said(next, play, i)?.text)).toEqual([undefined, 'send', undefined]);
  });
});

describe('several cells', () => {
  const rows = cueRows(demoRig, demoPresets, song, []);
  const whole = { top: 0, bottom: rows.length - 1, left: 0, right: song.scenes.length - 1 };

  it('copied and pasted back over nothing are the same song', () => {
    const copied = copiedCells(song, rows, sheetState(song, world), whole);
    const bare = withoutCells(song, rows, whole);
    expect(bare.scenes.every((s) => s.values.length === 0)).toBe(true);
    const back = withPasted(bare, rows, { ...whole, bottom: 0, right: 0 }, copied);
    if (typeof back === 'string') throw new Error(back);
    expect(back.range).toEqual(whole);
    const sorted = (doc: Song) =>
      doc.scenes.map((s) => s.values.map((v) => `${v.functionId} ${v.value}`).sort());
    expect(sorted(back.song)).toEqual(sorted(song));
  });

  it('from a spreadsheet are taken whole or not at all, with the cell that is wrong', () => {
    const at = rows.findIndex((r) => r.title === 'Snapshot');
    const corner = { top: at, bottom: at, left: 1, right: 1 };
    const good = withPasted(song, rows, corner, 'Dry\tSwirl\r\n');
    expect(typeof good === 'string' ? good : said(good.song, rows[at]!, 2)!.text).toBe('6 Swirl');
    expect(withPasted(song, rows, corner, 'Dry\tNonsense')).toMatch(/^Chorus: “Nonsense” is not a value/);
    expect(withPasted(song, rows, corner, 'a\tb\tc\td\te\tf')).toMatch(/do not fit/);
  });

  it('one copied cell fills a range, and a range is filled to the right', () => {
    const at = rows.findIndex((r) => r.title === 'Snapshot');
    const range = { top: at, bottom: at, left: 1, right: 3 };
    const pasted = withPasted(song, rows, range, 'Swirl');
    if (typeof pasted === 'string') throw new Error(pasted);
    expect([1, 2, 3].map((i) => said(pasted.song, rows[at]!, i)!.text)).toEqual(Array(3).fill('6 Swirl'));
    const filled = withFilledRight(song, rows, sheetState(song, world), range);
    expect([1, 2, 3].map((i) => said(filled, rows[at]!, i)!.text)).toEqual(Array(3).fill('2 Body'));
  });
});

describe('exactly these tracks', () => {
  const line = row('Armed tracks');
  it('say of every track whether it is armed, and are carried until something else is typed', () => {
    const doc = typed(line, 1, 'Voice');
    const sheet = sheetState(doc, world);
    const armed = (i: number) =>
      world.arming
        .filter((fn) => sheet.cells[i]!.get(fn.id)?.value === 1)
        .map((fn) => fn.track.split('/')[1]);
    // Verse arms Voice by a value of its own, too; Bow, armed in Intro, is let go.
    expect(armed(1)).toEqual(['Voice']);
    expect(armed(2)).toEqual(['Voice']);
    expect(cueCell(line, doc, sheet, 2)).toMatchObject({ text: 'Voice', setIn: 1 });
  });
  it('are refused with the names that there are', () =>
    expect(withTyped(song, line, 0, 'Bow, Flute')).toBe(
      '“Flute” is no track; Bow, Voice, Hum, Reeds, Bells, Field, Click, Bounce or none would be right.',
    ));
  it('mark a scene in which none is armed', () => {
    const none = typed(line, 2, 'none');
    const sheet = sheetState(none, world);
    expect(armingOf(none, sheet, 1)).toBe(null);
    expect(armingOf(none, sheet, 2)).toMatch(/^No track is armed in Chorus/);
  });
  it('mark a scene in which two armed tracks listen to one input', () => {
    const both = typed(line, 2, 'Bow, Reeds');
    const sheet = sheetState(both, world);
    expect(armingOf(both, sheet, 2)).toBe(
      'Bow and Reeds are both armed in Chorus, and both listen to cello.',
    );
    const apart = typed(line, 2, 'Bow, Voice, Bounce');
    expect(armingOf(apart, sheetState(apart, world), 2)).toBe(null);
  });
});

describe('layers in the sheet', () => {
  it('are lines of their own, on or off, with their level', () => {
    const line = row('Layer Low hum');
    expect(said(typed(line, 0, 'on'), line, 1)).toMatchObject({ text: 'on', setIn: 0 });
    const level = all.find((r) => r.title === 'Level of Low hum');
    if (level) expect(said(typed(level, 0, '99'), level, 2)).toMatchObject({ text: '99' });
  });
});
