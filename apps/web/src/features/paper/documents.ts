import {
  chartTable,
  cueTables,
  labelStrips,
  orderPages,
  paperSize,
  planTable,
  rigTables,
  sentTable,
  stripPages,
  tablePages,
  type LabelStrip,
  type Measure,
  type OrderLine,
  type PaperName,
  type PaperPage,
  type StripLook,
} from '@idle-step/core/paper';
import type { World } from '@idle-step/core/engine';
import type { PressPlan } from '@idle-step/core/proof';
import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { partName, partsOf, setTimes, type Setlist, type Song } from '@idle-step/core/show';
import type { PaperTable } from '@idle-step/core/paper';
import { TAPE_ON_PAPER } from '../../paper/tape';
import { minutes, timeInSet } from '../../words/times';

export const KINDS = [
  { kind: 'labels', text: 'Label strips' },
  { kind: 'order', text: 'Running order' },
  { kind: 'cues', text: 'Cue sheet' },
  { kind: 'plan', text: 'Press plan' },
  { kind: 'rig', text: 'The rig' },
  { kind: 'chart', text: 'Chart of a device' },
  { kind: 'sent', text: 'Everything sent' },
] as const;
export type PaperKind = (typeof KINDS)[number]['kind'];

/** What is chosen of a document; empty for the first there is. */
export type PaperChoice = {
  readonly paper: PaperName;
  readonly boardId: string;
  /** A bank, or empty for all. */
  readonly bankId: string;
  readonly isColoured: boolean;
  readonly heightMm: number;
  readonly isLong: boolean;
  readonly songId: string;
  readonly deviceId: string;
  readonly presetId: string;
};

/** What documents are made of. */
export type PaperSource = {
  readonly rig: FullRig;
  readonly world: World;
  readonly presets: readonly Preset[];
  readonly set: Setlist | null;
  readonly songs: readonly Song[];
  /** Of the set in play, once it was found. */
  readonly plan: PressPlan | null;
};

export type PaperDocument = { readonly title: string; readonly pages: readonly PaperPage[] };

/** A document as pages, or why there is none, as a sentence. */
export function documentOf(
  kind: PaperKind,
  source: PaperSource,
  choice: PaperChoice,
  measure: Measure,
): PaperDocument | string {
  const upright = paperSize(choice.paper, false);
  const lying = paperSize(choice.paper, true);
  switch (kind) {
    case 'labels':
      return labels(source, choice, measure);
    case 'order':
      if (!source.set) return 'There is no set yet: make one in Sets.';
      return choice.isLong
        ? {
            title: source.set.name,
            pages: tablePages([longOrder(source.set, source.songs)], upright, measure),
          }
        : {
            title: source.set.name,
            pages: orderPages(
              source.set.name,
              aboutSet(source.set, source.songs),
              orderLines(source.set, source.songs),
              upright,
              measure,
            ),
          };
    case 'cues': {
      const song = source.songs.find((s) => s.id === choice.songId) ?? source.songs[0];
      if (!song) return 'The set in play has no songs.';
      const tables = cueTables(song, source.world, source.rig, source.presets);
      return { title: `${song.name}, cue sheet`, pages: tablePages(tables, lying, measure) };
    }
    case 'plan': {
      if (source.world.songs.length === 0) return 'The set in play has no songs.';
      if (!source.plan) return 'Looking for the fewest presses …';
      const name = source.world.show.setName || source.rig.name;
      return {
        title: `${name}, press plan`,
        pages: tablePages([planTable(name, source.plan, source.world)], upright, measure),
      };
    }
    case 'rig':
      return { title: source.rig.name, pages: tablePages(rigTables(source.rig), upright, measure) };
    case 'chart': {
      const device =
        source.rig.devices.find((d) => d.id === choice.deviceId) ??
        source.rig.devices.find((d) => d.chart.length > 0);
      if (!device || device.chart.length === 0) return 'No device of this rig has a chart yet.';
      return {
        title: `${device.name}, chart`,
        pages: tablePages([chartTable(device, source.rig)], upright, measure),
      };
    }
    case 'sent': {
      const preset = source.presets.find((p) => p.id === choice.presetId) ?? source.presets[0];
      if (!preset) return 'There is no preset yet: begin one in Floor.';
      return {
        title: `${preset.name}, everything sent`,
        pages: tablePages([sentTable(source.rig, preset)], lying, measure),
      };
    }
  }
}

function labels({ world }: PaperSource, choice: PaperChoice, measure: Measure): PaperDocument | string {
  const strips = stripsOf(world, choice);
  if (typeof strips === 'string') return strips;
  const { name, all } = strips;
  const look: StripLook = {
    heightMm: choice.heightMm,
    isColoured: choice.isColoured,
    colours: TAPE_ON_PAPER,
  };
  const title = `${name}, labels`;
  return { title, pages: stripPages(title, all, look, paperSize(choice.paper, true), measure) };
}

function stripsOf(world: World, choice: PaperChoice): { name: string; all: readonly LabelStrip[] } | string {
  const board = world.boards.find((b) => b.board.id === choice.boardId) ?? world.boards[0];
  if (!board) return 'There is no board yet: add one in Floor.';
  const banks = board.banks.filter((b) => choice.bankId === '' || b.bank.id === choice.bankId);
  if (banks.length === 0)
    return `${board.device.name} has no preset in force, so there is nothing on its labels.`;
  return { name: board.device.name, all: labelStrips(world, board, banks) };
}

const timesOf = (set: Setlist, songs: readonly Song[]) =>
  setTimes(set, (id) => songs.find((s) => s.id === id));

function aboutSet(set: Setlist, songs: readonly Song[]): string {
  const { playedS } = timesOf(set, songs);
  const begins = set.startMin === null ? '' : timeInSet(set, 0);
  return [set.date, set.place, begins, minutes(playedS)].filter(Boolean).join(' · ');
}

const tonight = (set: Setlist, songs: readonly Song[]) =>
  timesOf(set, songs).entries.filter((t) => !t.entry.notTonight);

function orderLines(set: Setlist, songs: readonly Song[]): OrderLine[] {
  return tonight(set, songs).map(({ entry, song, number, lengthS }) => ({
    number: number === null ? '' : String(number),
    name: entry.kind === 'song' ? (song?.name ?? 'gone') : entry.name,
    more: song
      ? [entry.isEncore ? 'encore' : '', `${song.tempoBpm}`, song.key].filter(Boolean).join(' · ')
      : minutes(lengthS),
    isPause: entry.kind !== 'song',
  }));
}

function longOrder(set: Setlist, songs: readonly Song[]): PaperTable {
  return {
    title: set.name,
    about: [aboutSet(set, songs), set.remark].filter(Boolean).join('. '),
    columns: [
      { head: '', share: 1, align: 'right' },
      { head: 'Song', share: 5 },
      { head: 'At', share: 2, align: 'right' },
      { head: 'Lasts', share: 2, align: 'right' },
      { head: 'Tempo, key', share: 3 },
      { head: 'Scenes and remarks', share: 9 },
    ],
    rows: tonight(set, songs).map(({ entry, song, number, startS, lengthS }) => {
      const scenes =
        song && entry.kind === 'song'
          ? partsOf(song)
              .filter((p) => !entry.leftOutSceneIds.includes(p.sceneId))
              .map((part) => {
                const remark = [song.scenes.find((s) => s.id === part.sceneId)?.remark, part.remark]
                  .filter(Boolean)
                  .join(', ');
                return remark ? `${partName(song, part)} (${remark})` : partName(song, part);
              })
              .join(', ')
          : '';
      const remarks = [entry.isEncore ? 'encore' : '', song?.remark, entry.remark].filter(Boolean).join('. ');
      return {
        kind: 'cells',
        isBold: false,
        cells: [
          number === null ? '' : String(number),
          entry.kind === 'song' ? (song?.name ?? 'gone') : entry.name,
          timeInSet(set, startS),
          minutes(lengthS),
          song ? [song.tempoBpm, song.key].filter(Boolean).join(' · ') : '',
          [remarks, scenes].filter(Boolean).join('\n'),
        ],
      };
    }),
    sizePt: 10,
  };
}
