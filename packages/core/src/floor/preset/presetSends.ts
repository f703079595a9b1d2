import type { Finding } from '../../edits';
import {
  functionChannel,
  isInForce,
  keepsNumber,
  sentValue,
  shownValue,
  takesValue,
  valueBounds,
  type ChartFunction,
  type Device,
  type Drive,
} from '../../gear';
import { isReservedByStandard } from '../../midi';
import type { Board, Control, RigWithBoards, SentKind } from '../board/board';

import { feelOf } from './feel';
import { isTurnedRound } from './lampRule';
import { ACTION_LISTS, type ActionListName } from '../gestures/gesture';
import { pagesOf, plainRow, type Action, type Assignment, type Preset, type SongTarget } from './preset';

/** One message that a preset can send, and what is odd about it. */
export type Sent = {
  readonly pageId: string;
  readonly pageName: string;
  readonly controlId: string;
  readonly controlName: string;
  readonly list: ActionListName | 'sweeps';
  /** What it does, in words. */
  readonly does: string;
  /** What is sent, in words: `CC 22`, `note 36`, `parameter 12`. Empty when nothing can be. */
  readonly message: string;
  /** 0–15, `null` for what has no channel. */
  readonly channel: number | null;
  readonly number: number | null;
  /** As sent; `null` for what goes through many values. */
  readonly value: number | null;
  readonly deviceName: string;
  readonly marks: readonly SentMark[];
};

export type SentCode = 'double' | 'reserved' | 'off-by-one' | 'gone' | 'beyond-board' | 'lamp-turned-round';
/** What is odd about a message; its place is the control that sends it. */
export type SentMark = Finding<SentCode>;

/** A mark before it is known at which control it stands. */
type Mark = { readonly code: SentCode; readonly sentence: string };

const markAt = (place: Pick<Sent, 'pageId' | 'controlId'>, { code, sentence }: Mark): SentMark => ({
  code,
  severity: 'warned',
  place: { control: { pageId: place.pageId, controlId: place.controlId } },
  sentence,
  mends: [],
});

/**
 * Everything that a preset sends, one row for each action and sweep that is switched on, in order of channel and
 * number; with doubles, near misses and what points at nothing marked.
 */
export function presetSends(rig: RigWithBoards, preset: Preset, scenesAtMost: number | null = null): Sent[] {
  const board = rig.boards.find((b) => b.id === preset.boardId);
  const functions = new Map(
    rig.devices.flatMap((d) => d.chart.map((fn) => [fn.id, { device: d, fn }] as const)),
  );
  const devices = new Map(rig.devices.map((d) => [d.id, d]));
  const pages = new Set(pagesOf(preset).map((p) => p.id));
  const groups = new Set(preset.groups.map((g) => g.id));
  const rows: Sent[] = [];
  for (const page of pagesOf(preset))
    for (const assignment of page.assignments) {
      const control = board?.controls.find((c) => c.id === assignment.controlId);
      const place = {
        pageId: page.id,
        pageName: page.name,
        controlId: assignment.controlId,
        controlName: control?.name ?? 'a control that is gone',
      };
      const gone = control
        ? []
        : [{ code: 'gone' as const, sentence: 'This control is gone from the board.' }];
      for (const list of ACTION_LISTS)
        for (const action of assignment[list]) {
          if (action.isOff) continue;
          const row = rowOf(action, { functions, devices, pages, groups, scenesAtMost });
          const marks = [
            ...gone,
            ...row.marks,
            ...labelMarks(assignment, action, functions),
            ...lampMarks(preset, control, assignment, action, functions),
            ...(board ? boardMarks(board, assignment, list, action) : []),
          ];
          rows.push({ ...place, list, ...row, marks: marks.map((m) => markAt(place, m)) });
        }
      for (const sweep of assignment.sweeps) {
        const plain = plainRow(sweep);
        const owner = sweep.functionId === null ? devices.get(sweep.deviceId) : undefined;
        const found =
          sweep.functionId !== null
            ? functions.get(sweep.functionId)
            : plain && owner
              ? { device: owner, fn: plain }
              : undefined;
        const moves = found ? `moves ${found.fn.name}` : 'moves a function that is gone';
        const swept = functionRow(found, null, moves);
        rows.push({
          ...place,
          list: 'sweeps',
          ...swept,
          marks: (gone.length > 0 ? gone : swept.marks).map((m) => markAt(place, m)),
        });
      }
    }
  return markDoubles(rows).sort(
    (a, b) => (a.channel ?? 99) - (b.channel ?? 99) || (a.number ?? 999) - (b.number ?? 999),
  );
}

type Found = { readonly device: Device; readonly fn: ChartFunction };
type Known = {
  readonly functions: ReadonlyMap<string, Found>;
  readonly devices: ReadonlyMap<string, Device>;
  readonly pages: ReadonlySet<string>;
  readonly groups: ReadonlySet<string>;
  /** Scenes of the song with the most of them, `null` when there are no songs to tell. */
  readonly scenesAtMost: number | null;
};
type Row = Pick<Sent, 'does' | 'message' | 'channel' | 'number' | 'value' | 'deviceName'> & {
  readonly marks: readonly Mark[];
};

const nothing = (does: string, sentence: string | null = null): Row => ({
  does,
  message: '',
  channel: null,
  number: null,
  value: null,
  deviceName: '',
  marks: sentence === null ? [] : [{ code: 'gone', sentence }],
});

function rowOf(action: Action, known: Known): Row {
  if ('functionId' in action) {
    const found = known.functions.get(action.functionId);
    const value = action.kind === 'set' ? action.value : action.kind === 'momentary' ? action.down : null;
    return functionRow(found, value, found ? deedOf(action, found) : 'moves a function that is gone');
  }
  switch (action.kind) {
    case 'message': {
      const device = known.devices.get(action.deviceId);
      if (!device) return nothing('a message', 'The device that this goes to is gone from the rig.');
      return messageRow(action, device);
    }
    case 'arm-step':
      return known.devices.has(action.deviceId)
        ? { ...nothing(`arms the ${action.to} track`), deviceName: known.devices.get(action.deviceId)!.name }
        : nothing('arms a track', 'The device whose tracks this arms is gone from the rig.');
    case 'route':
      return nothing(
        action.part === 'gate'
          ? `${{ on: 'opens', off: 'closes', toggle: 'opens or closes' }[action.to]} a gate`
          : `switches a route${action.to === 'toggle' ? '' : ` ${action.to}`}`,
      );
    case 'raw':
      return { ...nothing('raw bytes'), message: `${action.bytes.length} raw bytes` };
    case 'clock':
      return { ...nothing(`clock ${action.to}`), message: 'clock' };
    case 'bank':
      return nothing(
        'turns the bank',
        action.to.kind === 'bank' && !known.pages.has(action.to.bankId)
          ? 'The bank that this turns to is gone.'
          : null,
      );
    case 'page':
      return nothing(
        'turns a page',
        !known.groups.has(action.groupId) || (action.to.kind === 'bank' && !known.pages.has(action.to.bankId))
          ? 'The page that this turns to is gone.'
          : null,
      );
    case 'scene':
      return nothing(
        'goes to a scene',
        action.to.kind === 'at' && known.scenesAtMost !== null && action.to.index >= known.scenesAtMost
          ? `No song has a scene ${action.to.index + 1}.`
          : null,
      );
    case 'song':
      return nothing(songDeed(action.to));
    case 'show':
      return nothing(SHOW_DEEDS[action.to]);
    case 'view':
      return nothing(`turns the stage to the ${action.to} view`);
    case 'capture':
      return nothing('captures how the rig stands into the scene');
    case 'line':
      return nothing(
        action.to === 'toggle' ? 'runs or stops the time line' : `${LINE_DEEDS[action.to]} the time line`,
      );
    case 'cue':
      return nothing(
        action.to.kind === 'at' ? `goes to cue ${action.to.index + 1}` : `goes to the ${action.to.kind} cue`,
      );
    case 'loop':
      return nothing(action.to === 'toggle' ? 'switches the loop' : `switches the loop ${action.to}`);
    case 'tap':
      return nothing('taps the tempo');
    case 'panic':
      return nothing('panic');
  }
}

function songDeed(to: SongTarget): string {
  if (typeof to === 'object') return `goes to song ${to.index + 1}`;
  return to === 'again' ? 'begins the song again' : `goes to the ${to} song`;
}

const SHOW_DEEDS = {
  begin: 'begins the set',
  end: 'ends the set',
  next: 'goes to the next thing of the set',
  previous: 'goes to the thing before in the set',
} as const;

const LINE_DEEDS = { start: 'starts', continue: 'continues', stop: 'stops' } as const;

function deedOf(action: Action & { functionId: string }, { device, fn }: Found): string {
  if (action.kind === 'set' && fn.shape.kind !== 'trigger') {
    const { number, label } = shownValue(device, fn, action.value);
    return [`sets ${fn.name}`, number, label].filter(Boolean).join(' ');
  }
  const words: Record<string, string> = {
    set: fn.name,
    toggle: `toggles ${fn.name}`,
    'arm-only': `arms only ${fn.arms ?? fn.name}`,
    'one-of': `switches ${fn.name} on, the others off`,
    momentary: `holds ${fn.name} while down`,
    step: `steps ${fn.name}`,
    ramp: `glides ${fn.name}`,
  };
  return words[action.kind] ?? fn.name;
}

function functionRow(found: Found | undefined, value: number | null, does: string): Row {
  if (!found) return nothing(does, 'The function that this moves is gone from its chart.');
  const { device, fn } = found;
  const { message, number } = driveWords(fn.drive);
  const marks: Mark[] = [];
  const isKept = fn.drive.kind === 'controller' && keepsNumber(device, fn.drive.controller);
  if (fn.reserved || isKept)
    marks.push({
      code: 'reserved',
      sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
    });
  else if (!isInForce(device, fn))
    marks.push({
      code: 'gone',
      sentence: `${device.name} does not have ${fn.name} under its setting as it is now.`,
    });
  if (value !== null && !takesValue(fn.shape, value)) marks.push(beyond(found, value));
  const sent = value === null || fn.drive.kind === 'transport' ? null : sentValue(fn.shape, value);
  return {
    does,
    message,
    number,
    channel: functionChannel(device, fn),
    value: sent,
    deviceName: device.name,
    marks,
  };
}

/** A value that no choice has: one too many when the person typed what the device shows. */
function beyond({ device, fn }: Found, value: number): Mark {
  const { min, max } = valueBounds(fn.shape);
  const isNear = value === max + 1 || value === min - 1;
  return {
    code: isNear ? 'off-by-one' : 'gone',
    sentence: isNear
      ? `${device.name} ${fn.name} has no value ${value} as sent; it goes from ${min} to ${max}. What is shown is one more than what is sent.`
      : `${device.name} ${fn.name} does not take ${value} as sent; it goes from ${min} to ${max}.`,
  };
}

function messageRow(action: Action & { kind: 'message' }, device: Device): Row {
  const channel = action.channel ?? device.channel;
  const { send, number } = action;
  const words = { note: 'note', controller: 'CC', program: 'program' }[send];
  const message = `${words} ${number}`;
  const marks: Mark[] = [];
  if (send === 'controller' && isReservedByStandard(number))
    marks.push({ code: 'reserved', sentence: `CC ${number} has a meaning of its own in the standard.` });
  if (send === 'controller' && keepsNumber(device, number))
    marks.push({
      code: 'reserved',
      sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
    });
  for (const fn of device.chart) {
    const isSame =
      functionChannel(device, fn) === channel &&
      ((send === 'controller' && fn.drive.kind === 'controller' && fn.drive.controller === number) ||
        (send === 'note' && fn.drive.kind === 'note' && fn.drive.note === number));
    if (!isSame) continue;
    if (fn.reserved)
      marks.push({
        code: 'reserved',
        sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
      });
    else if (fn.shape.kind === 'choice' && !takesValue(fn.shape, action.value))
      marks.push(beyond({ device, fn }, action.value));
  }
  const value = send === 'program' ? null : action.value;
  return { does: `sends ${message}`, message, channel, number, value, deviceName: device.name, marks };
}

function driveWords(drive: Drive): { message: string; number: number | null } {
  switch (drive.kind) {
    case 'controller':
      return { message: `CC ${drive.controller}`, number: drive.controller };
    case 'controller-14':
      return { message: `CC ${drive.controller} and ${drive.controller + 32}`, number: drive.controller };
    case 'note':
      return { message: `note ${drive.note}`, number: drive.note };
    case 'program':
      return { message: 'program', number: null };
    case 'sound':
      return { message: 'bank and program', number: null };
    case 'parameter':
      return { message: `parameter ${drive.parameter}`, number: drive.parameter };
    case 'pitch-bend':
      return { message: 'pitch bend', number: null };
    case 'channel-pressure':
      return { message: 'pressure', number: null };
    case 'sysex':
      return { message: 'SysEx', number: null };
    case 'transport':
      return { message: `machine control ${drive.command}`, number: null };
    case 'record-ready':
      return { message: `machine control ready ${drive.track}`, number: null };
  }
}

/** A label that says a number which is what is sent and not what the device shows. */
function labelMarks({ label }: Assignment, action: Action, functions: ReadonlyMap<string, Found>): Mark[] {
  if (action.kind !== 'set') return [];
  const found = functions.get(action.functionId);
  const said = /\d+/.exec(label)?.[0];
  if (!found || said === undefined || found.fn.shape.kind !== 'choice') return [];
  const shown = shownValue(found.device, found.fn, action.value).number;
  if (said === shown || Number(said) !== action.value) return [];
  return [
    {
      code: 'off-by-one',
      sentence: `The label says ${said}, but ${found.device.name} shows ${shown} for it: ${said} is what is sent.`,
    },
  ];
}

/** A lamp that is lit while what its switch turns on is off. */
function lampMarks(
  preset: Preset,
  control: Control | undefined,
  assignment: Assignment,
  action: Action,
  functions: ReadonlyMap<string, Found>,
): Mark[] {
  if (!control || !('functionId' in action)) return [];
  const found = functions.get(action.functionId);
  const rule = assignment.lamp ?? feelOf(preset, control.kind).lamp;
  if (rule?.kind !== 'function' || rule.functionId !== action.functionId) return [];
  if (found?.fn.shape.kind !== 'switch' || !isTurnedRound(rule)) return [];
  return [
    {
      code: 'lamp-turned-round',
      sentence: `The lamp of ${control.name} is lit while ${found.device.name} ${found.fn.name} is off, and dark while it is on.`,
    },
  ];
}

/** What the board's own program cannot do. */
export function boardMarks(
  board: Board,
  assignment: Assignment,
  list: ActionListName,
  action: Action,
): Mark[] {
  if (board.mode !== 'standalone') return [];
  const { can } = board;
  const marks: Mark[] = [];
  const mark = (sentence: string) => marks.push({ code: 'beyond-board', sentence });
  if (!can.gestures.includes(list)) mark(`This board cannot tell ${LIST_WORDS[list]} by itself.`);
  if (can.actions !== null && assignment[list].length > can.actions)
    mark(`This board keeps ${can.actions} actions for a gesture; here are ${assignment[list].length}.`);
  const kind = sentKind(action);
  if (kind === 'host') mark('Only this application can do that; a board by itself cannot.');
  else if (kind && !can.messages.includes(kind))
    mark(`This board cannot send ${SENT_WORDS[kind]} by itself.`);
  return marks;
}

const LIST_WORDS: Record<ActionListName, string> = {
  press: 'a press',
  release: 'a release',
  hold: 'a hold',
  doublePress: 'a double press',
  toe: 'the toe',
  heel: 'the heel',
};

const SENT_WORDS: Record<SentKind, string> = {
  note: 'notes',
  controller: 'controllers',
  program: 'programs',
  sysex: 'SysEx',
  clock: 'clock',
};

/** What kind of message an action needs, `host` for what only this application can do, `null` where it depends. */
function sentKind(action: Action): SentKind | 'host' | null {
  switch (action.kind) {
    case 'message':
      return action.send;
    case 'raw':
      return action.bytes[0] === 0xf0 ? 'sysex' : null;
    case 'clock':
      return 'clock';
    case 'ramp':
    case 'arm-only':
    case 'arm-step':
    case 'route':
    case 'scene':
    case 'song':
    case 'show':
    case 'view':
    case 'capture':
    case 'line':
    case 'cue':
    case 'loop':
    case 'panic':
      return 'host';
    default:
      return null;
  }
}

/** The same message from two controls of one page is a double; on two pages it is not, for only one is in force. */
function markDoubles(rows: readonly Sent[]): Sent[] {
  const byMessage = new Map<string, Sent[]>();
  for (const row of rows) {
    if (row.message === '' || row.value === null) continue;
    const key = [row.pageId, row.deviceName, row.channel, row.message, row.value].join('/');
    byMessage.set(key, [...(byMessage.get(key) ?? []), row]);
  }
  const twins = new Map<Sent, Sent>();
  for (const list of byMessage.values()) {
    const controls = new Set(list.map((r) => r.controlId));
    if (controls.size < 2) continue;
    for (const row of list)
      twins.set(
        row,
        list.find((r) => r.controlId !== row.controlId)!,
      );
  }
  return rows.map((row) => {
    const twin = twins.get(row);
    if (!twin) return row;
    const sentence = `${twin.controlName} sends the same on this page.`;
    return { ...row, marks: [...row.marks, markAt(row, { code: 'double', sentence })] };
  });
}
