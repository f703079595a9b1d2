import type { LiveNote, Show } from '@idle-step/core/engine';
import type { ChartFunction, Device } from '@idle-step/core/gear';
import type { Message, Sequence, StreamFault } from '@idle-step/core/midi';

/**
 * One line of the monitor. `wallMs` is the time of day, for people; `atMs` the live clock. What has a name is held as it
 * was when the line came, so that an edit never rewrites what was.
 */
export type LogLine = { readonly seq: number; readonly atMs: number; readonly wallMs: number } & (
  | {
      readonly kind: 'in' | 'out';
      readonly portId: string;
      readonly rig: Show['rig'];
      /** Whose function it is, the device behind the port it leaves by, or the board it comes from. */
      readonly device: Device | null;
      /** The function that it drives, or that reports with it. */
      readonly fn: ChartFunction | null;
      /** The control that sends it. */
      readonly controlName: string;
      readonly message: Message;
      /** What it completes together with those before it, where the standard spreads a thing over several. */
      readonly sequence: Sequence | null;
      /** Whether a real port brought or took it; otherwise it stayed inside, between stand-ins. */
      readonly real: boolean;
      /** Whether anybody took it: a real port or a stand-in. */
      readonly taken: boolean;
      /** For a report of a value that was told just before: what was told. */
      readonly expected: number | null;
      /** How much later than it was due it left, in ms; `null` for what came in. */
      readonly lateMs: number | null;
    }
  /** A port stamps its messages with a time that is still to come: they count as now. */
  | { readonly kind: 'ahead'; readonly portId: string; readonly rig: Show['rig']; readonly aheadMs: number }
  | {
      readonly kind: 'fault';
      readonly portId: string;
      readonly rig: Show['rig'];
      readonly fault: StreamFault;
    }
  /** A bound port was plugged in again. */
  | { readonly kind: 'port'; readonly portId: string; readonly rig: Show['rig']; readonly name: string }
  /** What the engine says, as a sentence. */
  | { readonly kind: 'note'; readonly code: LiveNote['code'] | 'endless'; readonly sentence: string }
);

export type MessageLine = Extract<LogLine, { kind: 'in' | 'out' }>;
export const isMessage = (line: LogLine): line is MessageLine => line.kind === 'in' || line.kind === 'out';

/** Clock and active sensing, which come by themselves all the time. */
export const isTiming = (line: LogLine): boolean =>
  isMessage(line) && (line.message.kind === 'clock' || line.message.kind === 'active-sensing');

/** What a foot, the mouse or a key did at a control. */
export const isOfControl = (line: LogLine): boolean => line.kind === 'in' && line.controlName !== '';

/** A line before it has its number. */
export type NewLine = LogLine extends infer L ? (L extends LogLine ? Omit<L, 'seq'> : never) : never;
