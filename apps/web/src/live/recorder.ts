import {
  sentIn,
  type Effect,
  type LiveEvent,
  type RecordedEntry,
  type Recording,
  type SentBytes,
  type Show,
} from '@idle-step/core/engine';

/** Entries that are kept: hours of playing, minutes of a clock at full tilt. Our own choice. */
export const ENTRIES_AT_MOST = 400_000;

/** Keeps everything that happens from the moment the rig is there, so that it can be played again. */
export class Recorder {
  private show: Show | null = null;
  private startedAtMs = 0;
  private entries: RecordedEntry[] = [];
  private sent: SentBytes[] = [];
  private begun = new Date(0);

  /** Another rig begins a recording of its own; an edit of the same one is part of it. */
  showIs(show: Show, atMs: number, effects: readonly Effect[]): void {
    if (this.show?.rig.id !== show.rig.id) {
      this.show = show;
      this.startedAtMs = atMs;
      this.begun = new Date();
      this.entries = [];
      this.sent = [];
    } else if (!this.isFull) {
      this.entries.push({ kind: 'show', atMs, show });
      this.sent.push(...sentIn(effects));
    }
  }

  took(event: LiveEvent, effects: readonly Effect[]): void {
    if (!this.show || this.isFull) return;
    this.entries.push({ kind: 'event', event });
    this.sent.push(...sentIn(effects));
  }

  get isFull(): boolean {
    return this.entries.length >= ENTRIES_AT_MOST;
  }

  get length(): number {
    return this.entries.length;
  }

  /** Everything so far, or `null` before there is a rig. */
  get recording(): {
    readonly recording: Recording;
    readonly sent: readonly SentBytes[];
    readonly begun: Date;
  } | null {
    if (!this.show || this.show.rig.id === '') return null;
    return {
      recording: { startedAtMs: this.startedAtMs, show: this.show, entries: [...this.entries] },
      sent: [...this.sent],
      begun: this.begun,
    };
  }
}
