import type { World } from '../engine';
import { cellsOf } from '../formats';
import type { Preset } from '../floor';
import { LINK_WORDS, portWords, type Device, type Rig } from '../gear';
import { pressesWords, presetSends, type PressPlan } from '../proof';
import type { FullRig } from '../routing';
import { cueCell, cueRows, sheetState } from '../sheet';
import { partName, partsOf, type Song } from '../show';
import type { PaperTable } from './table';

const cells = (...texts: readonly string[]) => ({ kind: 'cells', cells: texts }) as const;

/** The chart of a device, row by row. */
export function chartTable(device: Device, rig: Pick<Rig, 'middleC'>): PaperTable {
  return {
    title: `${device.name}: implementation chart`,
    about: `Channel ${device.channel + 1}${device.description ? `. ${device.description}` : ''}`,
    columns: [
      { head: 'Function', share: 3 },
      { head: 'Message', share: 3 },
      { head: 'Values', share: 4 },
      { head: 'Channel', share: 1, align: 'right' },
      { head: 'Remark', share: 3 },
    ],
    rows: device.chart.map((fn) => {
      const { name, message, kind, values, channel, remark } = cellsOf(fn, rig.middleC);
      return cells(name, message, [kind, values].filter(Boolean).join(' '), channel, remark);
    }),
    sizePt: 9,
  };
}

/** What feet do all evening, part by part. */
export function planTable(title: string, plan: PressPlan, world: World): PaperTable {
  const seconds = (s: number | null) => (s === null ? '' : `${s.toFixed(1)} s`);
  return {
    title: `${title}: press plan`,
    about: `${plan.presses} presses${plan.tight > 0 ? `, ${plan.tight} tight` : ''}${plan.open > 0 ? `, ${plan.open} left open` : ''}.`,
    columns: [
      { head: 'Part', share: 3 },
      { head: 'Left foot', share: 3 },
      { head: 'Right foot', share: 3 },
      { head: 'Feet need', share: 1.6, align: 'right' },
      { head: 'Music leaves', share: 1.9, align: 'right' },
      { head: '', share: 2 },
    ],
    rows: world.songs.flatMap(({ song, parts }, songIndex) => [
      { kind: 'section' as const, text: `${songIndex + 1} ${song.name}` },
      ...plan.parts
        .filter((p) => p.songIndex === songIndex)
        .map((p) => {
          const part = parts[p.partIndex];
          const of = (foot: 'left' | 'right') =>
            pressesWords(
              world,
              p.presses.filter((x) => x.foot === foot),
            );
          return {
            ...cells(
              part ? partName(song, part) : '',
              of('left'),
              of('right'),
              p.presses.length > 0 ? seconds(p.takesS) : '',
              seconds(p.leavesS),
              p.isOpen ? 'no press leads there' : p.isTight ? 'tight' : '',
            ),
            isBold: p.isTight || p.isOpen,
          };
        }),
    ]),
    sizePt: 10,
  };
}

/** Everything that a preset sends, by channel and number. */
export function sentTable(rig: FullRig, preset: Preset): PaperTable {
  return {
    title: `${preset.name}: everything that is sent`,
    about: 'By channel and number; values as they are sent.',
    columns: [
      { head: 'Channel', share: 1, align: 'right' },
      { head: 'Message', share: 2 },
      { head: 'Value', share: 2 },
      { head: 'Device', share: 2 },
      { head: 'What it does', share: 4 },
      { head: 'Bank', share: 2 },
      { head: 'Control', share: 2 },
    ],
    rows: presetSends(rig, preset).map((s) =>
      cells(
        s.channel === null ? '' : String(s.channel + 1),
        s.message,
        s.value === null ? '' : String(s.value),
        s.deviceName ?? '',
        s.does,
        s.pageName,
        s.controlName,
      ),
    ),
    sizePt: 8.5,
  };
}

/** What goes into what: gear with its channels, cables, what is done before an evening, and in what order it is switched on. */
export function rigTables(rig: Rig): PaperTable[] {
  const here = rig.devices.filter((d) => !d.away);
  const startUp = here.flatMap((d) => d.startUp.map((s) => cells('☐', d.name, s.text)));
  const order = [...here].sort((a, b) => POWER[a.role] - POWER[b.role]);
  const gear = here.map((d) =>
    cells(d.name, d.description || ROLE_WORDS[d.role], d.role === 'carrier' ? '' : channelsOf(d), d.place),
  );
  return [
    rigTable(
      `${rig.name}: the rig`,
      [
        { head: 'Gear', share: 3 },
        { head: 'What it is', share: 4 },
        { head: 'Channel', share: 1, align: 'right' },
        { head: 'Where', share: 3 },
      ],
      gear,
    ),
    rigTable(
      'Cables',
      [
        { head: 'From', share: 4 },
        { head: 'To', share: 4 },
        { head: 'Kind', share: 2 },
      ],
      cableRows(rig),
    ),
    {
      ...rigTable(
        'Switching on',
        headless(1, 11),
        order.map((d, i) => cells(`${i + 1}`, d.name)),
      ),
      about:
        'Gear that listens first, then what passes on, and boards last, so that whatever boards send at power-on is heard by gear that is ready.',
    },
    ...(startUp.length === 0 ? [] : [rigTable('Before an evening', headless(1, 3, 8), startUp)]),
  ];
}

const headless = (...shares: readonly number[]): PaperTable['columns'] =>
  shares.map((share) => ({ head: '', share }));

const rigTable = (title: string, columns: PaperTable['columns'], rows: PaperTable['rows']): PaperTable => ({
  title,
  about: '',
  columns,
  rows,
  sizePt: 10,
});

function cableRows(rig: Rig): PaperTable['rows'] {
  const ports = new Map(
    rig.devices.flatMap((d) => d.ports.map((p) => [p.id, { device: d, port: p }] as const)),
  );
  return rig.cables.flatMap((c) => {
    const [from, to] = [ports.get(c.fromPortId), ports.get(c.toPortId)];
    return from && to
      ? cells(portWords(from.device, from.port), portWords(to.device, to.port), LINK_WORDS[from.port.link])
      : [];
  });
}

const POWER = { receiver: 0, carrier: 1, controller: 2 } as const;
const ROLE_WORDS = { receiver: 'answers', carrier: 'passes on', controller: 'sends' } as const;

function channelsOf({ channel, listens }: Device): string {
  switch (listens.kind) {
    case 'one':
      return String(channel + 1);
    case 'omni':
      return 'all';
    case 'several':
      return [...new Set([channel, ...listens.channels])].map((c) => c + 1).join(', ');
    case 'parts':
      return `${channel + 1} to ${channel + listens.count}`;
  }
}

/** Scenes that stand beside each other on a page, at the most. */
const SCENES = 6;

/** The cue sheet of a song: its scenes beside each other, six a table, and what each says in its lines. */
export function cueTables(song: Song, world: World, rig: FullRig, presets: readonly Preset[]): PaperTable[] {
  const rows = cueRows(rig, presets, song, []);
  const sheet = sheetState(song, world);
  const about = [
    `${song.tempoBpm} bpm`,
    song.key,
    `Order: ${partsOf(song)
      .map((p) => partName(song, p))
      .join(', ')}`,
    song.remark,
  ].filter(Boolean);
  const groups = Array.from(
    { length: Math.max(1, Math.ceil(song.scenes.length / SCENES)) },
    (_, i) => i * SCENES,
  );
  return groups.map((from) => {
    const scenes = song.scenes.slice(from, from + SCENES);
    return {
      title: from === 0 ? song.name : `${song.name}, scenes from ${from + 1}`,
      about: from === 0 ? about.join('. ') : '',
      columns: [{ head: '', share: 3 }, ...scenes.map((s) => ({ head: s.name, share: 2 }))],
      rows: rows.flatMap((row) => {
        const said = scenes.map((_, i) => {
          const cell = cueCell(row, song, sheet, from + i);
          return cell && cell.setIn === from + i ? cell.text : '';
        });
        const name = row.kind === 'function' ? `${row.device.name} ${row.title}` : row.title;
        return said.some((text) => text !== '') ? [cells(name, ...said)] : [];
      }),
      sizePt: 9,
    };
  });
}
