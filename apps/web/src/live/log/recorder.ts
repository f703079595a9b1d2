import type { Effect, LiveEvent, RecordedEntry, Recording, SentBytes, Show } from '@idle-step/core/engine';
import { encode, hex } from '@idle-step/core/midi';
import { HANDED_AHEAD_MS } from '../clock';
import { MessageTape } from './messageTape';

/** Entries that are kept: hours of playing, minutes of a clock at full tilt. */
export const ENTRIES_AT_MOST = 400_000;

/** Keeps everything that happens from the moment the rig is there, so that it can be played again. */
export class Recorder {
  private show: Show | null = null;
  private startedAtMs = 0;
  /** What came, in order: messages here, ticks as places without one, all else in `others` by its place. */
  private came = new MessageTape();
  private others = new Map<number, RecordedEntry>();
  private sent = new MessageTape();
  private begun = new Date(0);

  /** Another rig begins a recording of its own; an edit of the same one is part of it. */
  showIs(show: Show, atMs: number, effects: readonly Effect[]): void {
    if (this.show?.rig.id !== show.rig.id) {
      this.show = show;
      this.startedAtMs = atMs;
      this.begun = new Date();
      this.came = new MessageTape();
      this.others = new Map();
      this.sent = new MessageTape();
    } else if (!this.isFull) {
      this.others.set(this.came.leave({ atMs }), { kind: 'show', atMs, show });
      this.keepSent(effects);
    }
  }

  took(event: LiveEvent, effects: readonly Effect[]): void {
    if (!this.show || this.isFull) return;
    if (event.kind === 'message') this.came.push(event);
    else {
      const place = this.came.leave(event);
      if (event.kind === 'command') this.others.set(place, { kind: 'event', event });
    }
    this.keepSent(effects);
  }

  get isFull(): boolean {
    return this.length >= ENTRIES_AT_MOST;
  }

  get length(): number {
    return this.came.length;
  }

  /** Everything so far, or `null` before there is a rig. */
  get recording(): {
    readonly recording: Recording;
    readonly sent: readonly SentBytes[];
    readonly begun: Date;
  } | null {
    if (!this.show || this.show.rig.id === '') return null;
    const entries = Array.from({ length: this.came.length }, (_, i) => this.entryAt(i));
    const sent = Array.from({ length: this.sent.length }, (_, i): SentBytes => {
      const { atMs, portId, message } = this.sent.at(i)!;
      return { atMs, portId, bytes: hex(encode(message)) };
    });
    return {
      recording: { startedAtMs: this.startedAtMs, aheadMs: HANDED_AHEAD_MS, show: this.show, entries },
      sent,
      begun: this.begun,
    };
  }

  private entryAt(place: number): RecordedEntry {
    const other = this.others.get(place);
    if (other) return other;
    const message = this.came.at(place);
    if (message) return { kind: 'event', event: { kind: 'message', ...message } };
    return { kind: 'event', event: { kind: 'tick', ...this.came.timeAt(place) } };
  }

  private keepSent(effects: readonly Effect[]): void {
    for (const e of effects) if (e.kind === 'send') this.sent.push(e);
  }
}
