import { type Preset, comparePresets } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { writePresetFile, type Kept } from '@idle-step/contract';
import { demoPresets, demoRig } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import {
  choose,
  fill,
  HeldRequests,
  openPage,
  pressButton,
  textIs,
  textOf,
  until,
  useApp,
} from './support/app';
import { addBigPreset } from './support/bigPreset';
import { bindPort, fake, hexOf, openWithPorts } from './support/ports';

const running = useApp();

const rest = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const ferryTour = demoPresets[0]!;
const out = (page: Page) => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
/** A controller of the foot board, on channel 16. */
const play = (page: Page, number: number, value: number) =>
  page.evaluate(
    (n, v) =>
      (window as unknown as { midiFake: { deliver(name: string, bytes: number[]): void } }).midiFake.deliver(
        'Blue box 1',
        [0xbf, n, v],
      ),
    number,
    value,
  );
const preset = async () => (await running.app.get<Kept<Preset>>(`/presets/${ferryTour.id}`)).doc;
const saved = (page: Page) => textIs(page, '.save-state', (t) => /^saved \d/.test(t));

async function openFloor(room = '') {
  const page = await openWithPorts(running.browser, running.app.base, '/rig');
  await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
  await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
  await page.locator('.rail a[href="/floor"]').click();
  if (room) await page.locator(`.rooms a::-p-text(${room})`).click();
  return page;
}

/** Inputs of a person: each click, key and choice counts one. */
class Hand {
  inputs = 0;
  constructor(readonly page: Page) {}
  async click(selector: string): Promise<void> {
    this.inputs++;
    await this.page.locator(selector).click();
  }
  async extendTo(selector: string): Promise<void> {
    this.inputs++;
    await this.page.keyboard.down('Shift');
    await this.page.locator(selector).click();
    await this.page.keyboard.up('Shift');
  }
  async choose(label: string, text: string): Promise<void> {
    this.inputs++;
    await choose(this.page, label, text);
  }
  async fill(label: string, text: string): Promise<void> {
    this.inputs++;
    await fill(this.page, label, text);
  }
}
/** A cell of the table by its control, list and bank. */
const cell = (control: string, list: string, bank: string) => `[aria-label^="${control}, ${list}, ${bank}:"]`;

beforeAll(async () => {
  // The string processor of the demo has no expression of its own.
  const { doc, version } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
  const devices = doc.devices.map((d) => {
    const volume = d.name === 'Kelpline' ? d.chart.find((f) => f.name === 'Volume') : undefined;
    if (!volume) return d;
    const expression = {
      ...volume,
      id: crypto.randomUUID(),
      name: 'Expression',
      drive: { kind: 'controller' as const, controller: 11 },
    };
    return { ...d, chart: [...d.chart, expression] };
  });
  const response = await fetch(`${running.app.base}/api/rigs/${demoRig.id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"`, Origin: running.app.base },
    body: JSON.stringify({ ...doc, devices }),
  });
  expect(response.status).toBe(200);
});

describe('the preset as a table', () => {
  it('gives twenty switches over two banks the notes 36 to 55, and the pedals volume and expression, in 15 inputs', async () => {
    const page = await openFloor();
    await page.waitForSelector('.control-editor');
    const hand = new Hand(page);
    const asItWas = JSON.stringify(await preset());
    await hand.click('.rooms a::-p-text(Table)');
    await hand.click('#shown-release');
    await hand.click(cell('far 1', 'press', '1 Crossing'));
    await hand.extendTo(cell('near 5', 'press', '2 Snapshots'));
    await hand.click('.fill-panel button[type="submit"]');
    await textIs(page, '.table-room [role="status"]', (t) => t.startsWith('20 filled'));
    await hand.click(cell('pedal 1', 'moves', '1 Crossing'));
    await hand.extendTo(cell('pedal 1', 'moves', '2 Snapshots'));
    await hand.click('.fill-panel button[type="submit"]');
    await hand.click(cell('pedal 2', 'moves', '1 Crossing'));
    await hand.extendTo(cell('pedal 2', 'moves', '2 Snapshots'));
    await hand.choose('Function', 'Expression');
    await hand.click('.fill-panel button[type="submit"]');
    expect(hand.inputs).toBeLessThanOrEqual(15);
    await saved(page);
    expect(await axeViolations(page)).toEqual([]);

    // What the feet send: far 1 to 5 are controllers 36 to 40, near 1 to 5 are 31 to 35.
    const switches = [36, 37, 38, 39, 40, 31, 32, 33, 34, 35];
    const pressed = async () => {
      const before = (await out(page)).length;
      for (const number of switches) {
        await play(page, number, 127);
        await play(page, number, 0);
      }
      return (
        await until(
          'notes',
          () => out(page),
          (s) => s.length >= before + 20,
        )
      ).slice(before);
    };
    const notes = (from: number) =>
      switches.flatMap((_, i) => {
        const note = (from + i).toString(16).toUpperCase();
        return [`92 ${note} 64`, `82 ${note} 40`];
      });
    expect(await pressed()).toEqual(notes(36));
    // The switch that turned the bank is a note now, so the bank is turned on the screen.
    await pressButton(page, 'Bank up');
    expect(await pressed()).toEqual(notes(46));
    const before = (await out(page)).length;
    await play(page, 4, 127);
    await play(page, 5, 127);
    expect(
      (
        await until(
          'pedals',
          () => out(page),
          (s) => s.length >= before + 2,
        )
      ).slice(before),
    ).toEqual(['B2 07 7F', 'B2 0B 7F']);
    expect(page.troubles).toEqual([]);

    // Undo gives back the preset as it was, byte for byte.
    for (let i = 0; i < 4; i++) {
      await page.keyboard.down('Control');
      await page.keyboard.press('z');
      await page.keyboard.up('Control');
    }
    await until(
      'undone',
      async () => JSON.stringify(await preset()) === asItWas,
      (isSame) => isSame,
    );
  });

  it('recalls snapshots 1 to 4 from four switches, shown as the person knows them', async () => {
    const page = await openFloor('Table');
    await page.locator(cell('far 1', 'press', '1 Crossing')).click();
    await page.keyboard.down('Shift');
    await page.locator(cell('far 4', 'press', '1 Crossing')).click();
    await page.keyboard.up('Shift');
    // Only the press lines are filled: the release lines between are taken out first.
    await page.locator('#shown-release').click();
    await page.locator(cell('far 1', 'press', '1 Crossing')).click();
    await page.keyboard.down('Shift');
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Shift');
    await choose(page, 'Fill with', 'values of a function');
    await choose(page, 'First value', '1 Dry');
    await page.locator('.fill-panel button[type="submit"]').click();
    await textIs(page, cell('far 4', 'press', '1 Crossing'), (t) => t.includes('Snapshot 4'));
    const before = (await out(page)).length;
    for (const number of [36, 37, 38, 39]) {
      await play(page, number, 127);
      await play(page, number, 0);
      await rest(60);
    }
    expect(
      (
        await until(
          'snapshots',
          () => out(page),
          (s) => s.length >= before + 4,
        )
      ).slice(before),
    ).toEqual(['B2 16 00', 'B2 16 01', 'B2 16 02', 'B2 16 03']);
    await page.locator('.rooms a::-p-text(What it sends)').click();
    await page.waitForSelector('.sends-list');
    const rows = await page.$$eval('.sends-list tr', (trs) =>
      trs.map((tr) => tr.innerText.replace(/\s+/g, ' ')),
    );
    expect(rows.filter((r) => r.includes('Crossing far')).slice(0, 4)).toEqual([
      '3 CC 22 0 Kelpline sets Snapshot 1 Dry Crossing far 1 press',
      '3 CC 22 1 Kelpline sets Snapshot 2 Body Crossing far 2 press',
      '3 CC 22 2 Kelpline sets Snapshot 3 Full Crossing far 3 press',
      '3 CC 22 3 Kelpline sets Snapshot 4 Air Crossing far 4 press',
    ]);
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });

  it('takes what is typed and pasted, all or nothing, and says where it is wrong', async () => {
    const page = await openFloor('Table');
    const target = cell('near 1', 'press', '3 Sound check');
    await page.locator(target).click();
    await page.keyboard.type('note 300');
    await page.keyboard.press('Enter');
    await textIs(page, '.table-room [role="alert"]', (t) => t.includes('“note 300” is no action'));
    expect(await page.$eval('.preset-grid .cell-input', (i) => (i as HTMLInputElement).value)).toBe(
      'note 300',
    );
    await page.keyboard.press('Escape');
    const paste = (text: string) =>
      page.evaluate((t) => {
        const data = new DataTransfer();
        data.setData('text/plain', t);
        document
          .querySelector('.preset-grid')!
          .dispatchEvent(
            new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
          );
      }, text);
    await paste('CC 7 value 100\nCC 300');
    await textIs(page, '.table-room [role="alert"]', (t) => t.startsWith('Line 2, cell 1:'));
    expect(await textOf(page, target)).not.toContain('CC 7');
    await paste('CC 20 value 3 channel 9\nnote 40');
    await textIs(page, target, (t) => t.startsWith('CC 20 value 3, channel 9'));
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await textIs(page, target, (t) => t.includes('Record'));
  });
});

describe('a large preset', () => {
  it('stands in the table whole, and a fill of 160 cells is saved in one request', async () => {
    const { boardId, presetId } = await addBigPreset(running.app);
    const page = await openPage(running.browser, running.app.base, `/floor/${boardId}/table`);
    await page.waitForSelector('[data-cell="47/9"]');
    await page.locator('#shown-release').click();
    await page.locator('#shown-hold').click();
    await page.locator('[data-cell="0/0"]').click();
    const saves: string[] = [];
    page.on('request', (r) => r.method() === 'PUT' && saves.push(r.url()));
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await textIs(page, '.fill-panel button[type="submit"]', (t) => t === 'Fill 160 cells');
    await page.locator('.fill-panel button[type="submit"]').click();
    await saved(page);
    await rest(1500);
    expect(saves.map((url) => url.split('/').at(-1))).toEqual([presetId]);
    const { doc } = await running.app.get<Kept<Preset>>(`/presets/${presetId}`);
    const numbers = doc.banks.flatMap((b) => b.assignments.map((a) => a.press[0]));
    expect(numbers.map((a) => a?.kind === 'message' && a.number)).toEqual(
      Array.from({ length: 160 }, (_, i) => Math.min(127, 36 + i)),
    );
    expect(doc.banks[3]!.assignments[5]!.release).toHaveLength(1);
    expect(page.troubles).toEqual([]);
  });
});

describe('three switches on a channel of their own', () => {
  it('record, go to the track before and to the next one', async () => {
    const page = await openFloor();
    await page.locator('[data-control="far 1"]').click();
    for (const [i, number] of [85, 86, 87].entries()) {
      await page.locator(`[data-control="far ${i + 1}"]`).click();
      await page.waitForSelector(`.control-editor[aria-label="What far ${i + 1} does"]`);
      await page.locator('.action-open').click();
      await choose(page, 'Does', 'send a note, CC or program');
      await choose(page, 'Sends', 'controller');
      await fill(page, 'Controller', String(number));
      await fill(page, 'Value', '127');
      await choose(page, 'Channel', '16');
    }
    await saved(page);
    const before = (await out(page)).length;
    for (const number of [36, 37, 38]) await play(page, number, 127);
    expect(
      (
        await until(
          'sent',
          () => out(page),
          (s) => s.length >= before + 3,
        )
      ).slice(before),
    ).toEqual(['BF 55 7F', 'BF 56 7F', 'BF 57 7F']);
    expect(page.troubles).toEqual([]);
  });
});

const rig = async () => (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc;
const deliverAt = (page: Page, name: string, ...bytes: number[]) =>
  page.evaluate(
    (n, b) =>
      (window as unknown as { midiFake: { deliver(n: string, bytes: number[]): void } }).midiFake.deliver(
        n,
        b,
      ),
    name,
    bytes,
  );

describe('boards', () => {
  it('are added in a ready shape, built on, learned along a row, and taken away again', async () => {
    const page = await openFloor();
    await pressButton(page, 'Add a board');
    await page.locator('.dropdown-item::-p-text(Sixteen pads)').click();
    await page.waitForSelector('.plan-control.pad');
    await choose(page, 'Kind of the new control', 'knob');
    await fill(page, 'How many', '2');
    await pressButton(page, 'Add');
    await until(
      'controls',
      () => page.$$eval('.plan-control', (all) => all.length),
      (n) => n === 18,
    );
    // A pad takes the next free note, a knob the next free controller.
    expect(
      await page.$$eval('.plan-control.knob', (all) => all.map((c) => c.getAttribute('aria-label'))),
    ).toEqual(['knob 1 CC 20', 'knob 2 CC 21']);
    expect(await axeViolations(page)).toEqual([]);
    const board = (
      await until('board kept', rig, (r) => r.boards.some((b) => b.controls.length === 18))
    ).boards.find((b) => b.controls.length === 18)!;

    // Learned in a row without the mouse between: two pads and a knob, each as it is played.
    const { name } = (await rig()).devices.find((d) => d.id === board.deviceId)!;
    await page.locator('.rail a[href="/rig"]').click();
    await bindPort(page, name, 'USB', 'Twig small');
    await page.locator('.rail a[href="/floor"]').click();
    await page.locator(`.tabs a::-p-text(${name})`).click();
    await page.locator('.rooms a::-p-text(Board)').click();
    await page.locator('[aria-label="pad 1 note 36"]').click();
    await page.keyboard.down('Shift');
    await page.locator('[aria-label="pad 2 note 37"]').click();
    await page.locator('[aria-label="knob 1 CC 20"]').click();
    await page.keyboard.up('Shift');
    await pressButton(page, 'Learn 3 in a row');
    const deliver = (...bytes: number[]) => deliverAt(page, 'Twig small', ...bytes);
    const asks = (text: string) => textIs(page, '.learn-ask', (t) => t.startsWith(text));
    await asks('Press pad 1');
    // Clock and active sensing go on meanwhile.
    await deliver(0xf8);
    await deliver(0xfe);
    await deliver(0x9a, 60, 90);
    await deliver(0x8a, 60, 64);
    await asks('Press pad 2');
    // The same note again: it belongs to pad 1 now, and the choice is shown.
    await deliver(0x9a, 60, 90);
    await deliver(0x8a, 60, 64);
    await textIs(page, '.learn-panel', (t) => t.includes('That was pad 1: it sends note 60 already'));
    await pressButton(page, 'Pass over pad 2');
    await asks('Move knob 1');
    for (const v of [3, 20, 40, 80, 110, 124]) await deliver(0xba, 74, v);
    await textIs(page, '.learn-said', (t) => t.includes('knob 1 sends CC 74'));
    await textIs(page, '.learn-said', (t) => t.includes('pad 2 was passed over, as you chose'));
    const learned = (
      await until('learned', rig, (r) =>
        r.boards.some((b) => b.id === board.id && b.controls.some((c) => c.sends.number === 74)),
      )
    ).boards.find((b) => b.id === board.id)!.controls;
    const of = (control: string) => learned.find((c) => c.name === control)!;
    expect(of('pad 1')).toMatchObject({ sends: { kind: 'note', number: 60 }, channel: 10 });
    expect(of('pad 2')).toMatchObject({ sends: { kind: 'note', number: 37 }, channel: null });
    expect(of('knob 1')).toMatchObject({ channel: 10, hardware: { heel: 3, toe: 124 } });

    // One undo takes the last one back; then the board goes as it came.
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until('undone', rig, (r) =>
      r.boards.some(
        (b) => b.id === board.id && b.controls.some((c) => c.name === 'knob 1' && c.sends.number === 20),
      ),
    );
    await pressButton(page, 'Remove this board');
    await until('removed', rig, (r) => !r.boards.some((b) => b.id === board.id));
    expect(page.troubles).toEqual([]);
  });
});

describe('learning at a port that nothing was bound to', () => {
  it('binds the way too, and one long press is asked for again: it could be two of a latching switch', async () => {
    const page = await openFloor();
    const { length } = (await rig()).boards;
    await pressButton(page, 'Add a board');
    await page.locator('.dropdown-item::-p-text(Three switches in a row)').click();
    await page.locator('[aria-label="switch 1 CC 20"]').click();
    await pressButton(page, 'Learn what it sends');
    await textIs(page, '.learn-ask', (t) => t.startsWith('Press switch 1'));
    await deliverAt(page, 'Twig small', 0xb2, 90, 127);
    await textIs(page, '.learn-ask', (t) => t.startsWith('Let go of switch 1'));
    await rest(1500);
    await deliverAt(page, 'Twig small', 0xb2, 90, 0);
    await textIs(page, '.learn-ask', (t) => t.startsWith('Press switch 1 again, three times'));
    await deliverAt(page, 'Twig small', 0xb2, 90, 127);
    await deliverAt(page, 'Twig small', 0xb2, 90, 0);
    await textIs(page, '.learn-said', (t) =>
      t.includes('switch 1 sends CC 90 on channel 3: momentary switch'),
    );
    await textIs(page, '.learn-said', (t) => t.includes('“Twig small” is bound to Switches USB'));
    // What it sends is now heard as its own.
    await pressButton(page, 'Learn what it sends');
    await deliverAt(page, 'Twig small', 0xb2, 91, 127);
    await deliverAt(page, 'Twig small', 0xb2, 91, 0);
    await textIs(page, '.learn-said', (t) => t.includes('CC 91 on channel 3'));
    expect(await page.$('.board-room-edit .notice')).toBeNull();
    await pressButton(page, 'Remove this board');
    await until('removed', rig, (r) => r.boards.length === length);
    expect(page.troubles).toEqual([]);
  });
});

describe('a worn pedal', () => {
  it('is calibrated by moving it, and then gives its whole range; its curve is bent by its points', async () => {
    const page = await openFloor('Board');
    await page.locator('[aria-label="pedal 1 CC 4"]').click();
    await pressButton(page, 'Calibrate by moving it');
    // So quick that no picture is drawn between: each position counts all the same.
    await page.evaluate(() => {
      const { midiFake } = window as unknown as {
        midiFake: { deliver(name: string, bytes: number[]): void };
      };
      for (const v of [20, 7, 30, 60, 90, 119, 70, 8]) midiFake.deliver('Blue box 1', [0xbf, 4, v]);
    });
    await textIs(page, '.calibration', (t) => t.includes('7 to 119'));
    await pressButton(page, 'Take these ends');
    await textIs(page, '.control-settings', (t) => t.includes('Heel 7, toe 119'));
    // Moved by the keys: 2 mm to the right, on the grid.
    const plank = async () =>
      (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc.boards[0]!.controls[10]!;
    const { xMm } = await plank();
    await page.focus('[aria-label="pedal 1 CC 4"]');
    await page.keyboard.press('ArrowLeft');
    await until('moved', plank, (c) => c.xMm === xMm - 2 && c.hardware.toe === 119);
    const box = (await (await page.$('[aria-label="pedal 1 CC 4"]'))!.boundingBox())!;
    await page.mouse.move(box.x + 20, box.y + 20);
    await page.mouse.down();
    await page.mouse.move(box.x + 12, box.y + 24, { steps: 4 });
    await page.mouse.up();
    const dragged = await until('dragged', plank, (c) => c.xMm !== xMm - 2);
    expect(dragged.xMm % 2).toBe(0);

    const last = async (value: number) => {
      const before = (await out(page)).length;
      await play(page, 4, value);
      return (
        await until(
          'sent',
          () => out(page),
          (s) => s.length > before,
        )
      ).at(-1);
    };
    expect(await last(119)).toBe('B2 07 7F');
    expect(await last(7)).toBe('B2 07 00');
    await page.locator('.rooms a::-p-text(Controls)').click();
    // The dock, which the room before shows, has a pedal 1 too.
    await page.locator('.board.full-size [data-control="pedal 1"]').click({ offset: { x: 10, y: 10 } });
    await choose(page, 'Curve', 'own points');
    await page.waitForSelector('.curve-points button');
    await page.focus('.curve-points button');
    for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowUp');
    await textIs(page, '.curve-points button', (t) => t === '33/40');
    // A third of the travel gives two fifths of the range: 44 is 0.33 of the way, 0.323 within its dead zone.
    expect(await last(44)).toBe('B2 07 32');
    expect(page.troubles).toEqual([]);
  });
});

describe('presets', () => {
  it('are begun, compared, put into files and read back, and deleted with a way back', async () => {
    const page = await openFloor('Presets');
    await pressButton(page, 'Duplicate Ferry tour');
    const copy = 'Ferry tour copy';
    await page.waitForSelector(`[aria-label="Delete ${copy}"]`);
    await page.locator(`li:has([aria-label="Delete ${copy}"]) ::-p-text(Compare)`).click();
    await textIs(page, '.preset-compare', (t) => t.includes('They do the same'));
    expect(await axeViolations(page)).toEqual([]);

    const text = writePresetFile(demoRig, ferryTour);
    const input = await page.$('input[aria-label="Preset file"]');
    const load = async (name: string, body: string) => {
      await page.evaluate(
        (el, n, b) => {
          const data = new DataTransfer();
          data.items.add(new File([b], n, { type: 'application/json' }));
          (el as HTMLInputElement).files = data.files;
          el!.dispatchEvent(new Event('change', { bubbles: true }));
        },
        input,
        name,
        body,
      );
    };
    await load('half.json', text.slice(0, text.length / 2));
    await textIs(page, '.presets-room [role="alert"]', (t) =>
      t.startsWith('half.json was not read: This is no JSON'),
    );
    await load('other.json', '{"format":"other"}');
    await textIs(page, '.presets-room [role="alert"]', (t) => t.includes('does not say that it is a preset'));
    await load('tour.json', text);
    await textIs(
      page,
      '.presets-room [role="status"]',
      (t) => t === 'Ferry tour 1 read from tour.json.' || t === 'Ferry tour 2 read from tour.json.',
    );
    const all = await running.app.get<Kept<Preset>[]>(`/presets?rigId=${demoRig.id}`);
    const read = all.find(({ doc }) => /^Ferry tour \d$/.test(doc.name))!.doc;
    expect(comparePresets(ferryTour, read)).toEqual({ controls: [], pages: [] });
    for (const name of [copy, read.name]) {
      await pressButton(page, `Delete ${name}`);
      await textIs(page, '.toast-body', (t) => t.startsWith(`${name} was deleted.`));
    }
    expect(page.troubles).toEqual([]);
  });
});

it('what the first cell says goes on down the table, and notes are laid out from where one says', async () => {
  const page = await openPage(running.browser, running.app.base, '/floor');
  await page.waitForSelector('.banks [aria-pressed="true"]');
  const asItWas = await preset();
  await page.locator('[aria-label="Add a bank"]').click();
  await page.locator('.rooms a::-p-text(Table)').click();
  const title = `${asItWas.banks.length + 1} Bank ${asItWas.banks.length + 1}`;
  await page.locator(cell('far 1', 'press', title)).click();
  await page.keyboard.type('song 3');
  await page.keyboard.press('Enter');
  await page.locator('#shown-release').click();
  await page.locator(cell('far 1', 'press', title)).click();
  await page.keyboard.down('Shift');
  await page.locator(cell('far 4', 'press', title)).click();
  await page.keyboard.up('Shift');
  await choose(page, 'Fill with', 'what the first cell says, counting on');
  await page.locator('.fill-panel button[type="submit"]').click();
  const songs = async () =>
    ((await preset()).banks.at(-1)?.assignments ?? []).flatMap(({ press: [a] }) =>
      a?.kind === 'song' && typeof a.to === 'object' ? a.to.index : [],
    );
  await until('songs', songs, (all) => all.length === 4);
  expect(await songs()).toEqual([2, 3, 4, 5]);
  await page.locator('.rooms a::-p-text(Controls)').click();
  await page.locator('.banks li:last-child button[aria-pressed]').click();
  await page.locator('.board-foot ::-p-text(Lay out by itself)').click();
  await choose(page, 'What is laid out', 'notes');
  await fill(page, 'First note', '60');
  await page.locator('.layout-panel .btn-go').click();
  const notes = async () =>
    ((await preset()).banks.at(-1)?.assignments ?? []).flatMap(({ press: [a] }) =>
      a?.kind === 'message' && a.send === 'note' ? a.number : [],
    );
  await until('notes', notes, (all) => all.length === 10);
  expect(await notes()).toEqual(Array.from({ length: 10 }, (_, i) => 60 + i));
  expect(await axeViolations(page)).toEqual([]);
  expect(page.troubles).toEqual([]);
});

it('a bank that is added is shown at once and does not play, and so is a copy', async () => {
  const page = await openPage(running.browser, running.app.base, '/floor');
  const shown = () =>
    page.$$eval('.banks [aria-pressed="true"]', (all) => all.map((e) => e.textContent ?? ''));
  await page.waitForSelector('.banks [aria-pressed="true"]');
  const count = await page.$$eval('.banks [aria-pressed]', (all) => all.length);
  await page.locator('[aria-label="Add a bank"]').click();
  await until('shown', shown, (s) => s.length === 1 && s[0]!.includes(`Bank ${count + 1}`));
  await page.locator('[aria-label="Duplicate this bank"]').click();
  await until('the copy shown', shown, (s) => s.length === 1 && s[0]!.includes(`Bank ${count + 2}`));
  const listed = () => page.$$eval('.banks [aria-pressed]', (all) => all.map((e) => e.textContent ?? ''));
  expect((await listed()).filter((t) => t.includes('playing'))).toEqual([(await listed())[0]]);
  // A click on the board opens the control there, also where a click plays.
  await page.locator('.rooms-row ::-p-text(Play)').click();
  const where = await textOf(page, '.where');
  await page.locator('.board.full-size [data-control="near 5"]').click();
  await textIs(page, '.control-editor .place-head', (t) => t.includes(`bank ${count + 2}`));
  expect(await textOf(page, '.where')).toBe(where);
  await textIs(page, '.not-in-force', (t) => t.startsWith(`Bank ${count + 2} is shown to be edited`));
  expect(await axeViolations(page)).toEqual([]);
  await page.locator('.not-in-force .btn').click();
  await until('plays', listed, (all) => all.at(-1)!.includes('playing'));
  expect(await page.$('.not-in-force')).toBeNull();
  // Playing by a click ends with the board that one leaves.
  await page.waitForSelector('.rooms-row [aria-pressed="true"]::-p-text(Play)');
  await page.locator('.tabs a::-p-text(Twig 4)').click();
  await page.waitForSelector('.rooms-row [aria-pressed="true"]::-p-text(Edit)');
  expect(page.troubles).toEqual([]);
});

it('says that there is no board only when that is known', async () => {
  const lists = new HeldRequests(/\/api\/(presets|sets)\b/);
  const page = await openPage(running.browser, running.app.base, '/floor', lists.hold);
  await textIs(page, '.work', (t) => t.includes('Fetching the boards'));
  await rest(300);
  expect(await textOf(page, 'body')).not.toContain('No board yet');
  lists.letCome();
  await textIs(page, '.place-head', (t) => t.includes('Plank 10'));
  expect(page.troubles).toEqual([]);
});
