import type { Message } from '@idle-step/core/midi';
import { LineRows } from '../../live/use/lineRows';
import { isMessage, isTiming, type LogLine, type MessageLine } from '../../live/log/logLine';
import { LOG_LIMIT, type MonitorLog } from '../../live/log/monitorLog';
import { wordsOf } from './lineWords';
import { nth } from '@idle-step/core/sure';

/** In and out are what real ports brought and took; inside is what stayed between stand-ins. */
export const DIRECTIONS = ['in', 'out', 'inside'] as const;
export type LineDirection = (typeof DIRECTIONS)[number];

export const MESSAGE_KINDS = [
  'notes',
  'controllers',
  'programs',
  'pressure and bend',
  'SysEx',
  'transport and timing',
] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

/** What is shown; an empty text or `null` lets everything pass. */
export type MonitorFilter = {
  readonly hidden: readonly (LineDirection | MessageKind)[];
  /** Clock and active sensing, which come by themselves all the time. */
  readonly timing: boolean;
  readonly deviceId: string | null;
  readonly portId: string | null;
  readonly channel: number | null;
  readonly search: string;
};

export const ALL_LINES: MonitorFilter = {
  hidden: [],
  timing: false,
  deviceId: null,
  portId: null,
  channel: null,
  search: '',
};

export const directionOf = (line: MessageLine): LineDirection => (line.real ? line.kind : 'inside');

export function kindOf(message: Message): MessageKind {
  switch (message.kind) {
    case 'note-on':
    case 'note-off':
      return 'notes';
    case 'controller':
      return 'controllers';
    case 'program':
      return 'programs';
    case 'poly-pressure':
    case 'channel-pressure':
    case 'pitch-bend':
      return 'pressure and bend';
    case 'sysex':
      return 'SysEx';
    default:
      return 'transport and timing';
  }
}

export function passes(filter: MonitorFilter, line: LogLine): boolean {
  if (isMessage(line)) {
    if (!filter.timing && isTiming(line)) return false;
    if (filter.hidden.includes(directionOf(line)) || filter.hidden.includes(kindOf(line.message)))
      return false;
    if (filter.channel !== null && (!('channel' in line.message) || line.message.channel !== filter.channel))
      return false;
  } else if (filter.channel !== null) return false;
  if (filter.portId !== null && !('portId' in line && line.portId === filter.portId)) return false;
  if (filter.deviceId === null && filter.search === '') return true;
  const words = wordsOf(line);
  if (filter.deviceId !== null && words.device?.id !== filter.deviceId) return false;
  const wanted = filter.search.trim().toLowerCase();
  return wanted === '' || words.searched.toLowerCase().includes(wanted);
}

/** Lines as they are at a moment, oldest first, each read when somebody asks for it. */
export type Lines = {
  readonly length: number;
  /** How many came in all, those with them that are not kept any more. */
  readonly total: number;
  /** @param index 0 to `length` − 1, 0 being the oldest. */
  at(index: number): LogLine;
};

export const NO_LINES: Lines = linesOf([], 0);

/** Every line of a list, which stays as it is whatever comes. */
export const allOf = (lines: Lines): readonly LogLine[] =>
  Array.from({ length: lines.length }, (_, i) => lines.at(i));

/** The same lines, which stay what they are whatever comes. */
export const frozen = (lines: Lines): Lines => linesOf(allOf(lines), lines.total);

function linesOf(list: readonly LogLine[], total: number): Lines {
  return { length: list.length, total, at: (index) => nth(list, index) };
}

/**
 * The last `LOG_LIMIT` lines that pass a filter, oldest first, kept up to date by looking only at what is new; those too that
 * the log does not hold any more.
 */
export class FilteredLines {
  /** What was shown before is still drawn while something new comes. */
  private readonly rows = new LineRows(2 * LOG_LIMIT);
  private lines = NO_LINES;
  private seen = 0;
  /** Clock and active sensing that were held back. */
  timing = 0;

  constructor(
    private readonly log: MonitorLog,
    private readonly filter: MonitorFilter,
  ) {}

  /** @returns the same lines as before when nothing new passes. */
  update(): Lines {
    const fresh = this.log.since(this.seen);
    this.seen = this.log.total;
    let { total } = this.lines;
    for (const line of fresh) {
      if (passes(this.filter, line)) this.rows.put(++total, line, line.seq);
      if (!this.filter.timing && isTiming(line)) this.timing++;
    }
    if (total > this.lines.total) this.lines = this.upTo(total);
    return this.lines;
  }

  private upTo(total: number): Lines {
    const gone = Math.max(0, total - LOG_LIMIT);
    return { length: total - gone, total, at: (index) => this.rows.at(gone + 1 + index) };
  }
}
