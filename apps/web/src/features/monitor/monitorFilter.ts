import type { Message } from '@idle-step/core/midi';
import { LOG_LIMIT, type LogLine, type MonitorLog } from '../../live/monitorLog';
import { wordsOf } from './lineWords';

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

export type MessageLine = Extract<LogLine, { kind: 'in' | 'out' }>;
export const isMessage = (line: LogLine): line is MessageLine => line.kind === 'in' || line.kind === 'out';

export const isTiming = (line: LogLine): boolean =>
  isMessage(line) && (line.message.kind === 'clock' || line.message.kind === 'active-sensing');

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

/**
 * The lines that pass a filter, oldest first, kept up to date by looking only at what is new. Nothing is drawn from
 * it that the log does not hold any more.
 */
export class FilteredLines {
  private lines: LogLine[] = [];
  private seen = 0;
  /** Clock and active sensing that were held back. */
  timing = 0;

  constructor(
    private readonly log: MonitorLog,
    private readonly filter: MonitorFilter,
  ) {}

  update(): readonly LogLine[] {
    const fresh = this.log.since(this.seen);
    this.seen = this.log.total;
    if (fresh.length === 0) return this.lines;
    const passed = fresh.filter((line) => passes(this.filter, line));
    if (!this.filter.timing) for (const line of fresh) if (isTiming(line)) this.timing++;
    if (passed.length > 0) this.lines = [...this.lines, ...passed].slice(-LOG_LIMIT);
    return this.lines;
  }
}
