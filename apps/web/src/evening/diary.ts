import type { Evening } from '@idle-step/contract';
import type { LiveNote, LiveState, World } from '@idle-step/core/engine';
import { encode, hex, type Message } from '@idle-step/core/midi';
import { noteSentence } from '@idle-step/core/proof';
import { portName } from '@idle-step/core/routing';
import type { EveningEntry } from '@idle-step/core/show';
import type { SentLine } from '../live/witness';
import { there } from '@idle-step/core/sure';

type NewEntry = EveningEntry extends infer E
  ? E extends EveningEntry
    ? Omit<E, 'number' | 'atMs'>
    : never
  : never;

/** Comes by itself all the time. */
const PASSING: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing', 'quarter-frame']);

/** Of a long message its beginning is written down. */
const BYTES_AT_MOST = 256;

/** What happens while a set runs, as lines of its log, until somebody takes them to keep them. */
export class Diary {
  head: Evening | null = null;
  next = 0;
  /** When it began, on the clock of events. */
  private originMs = 0;
  private lines: EveningEntry[] = [];
  /** The last line of each stream of positions that was not taken yet. */
  private readonly streams = new Map<string, number>();

  constructor(
    private readonly now: () => { readonly world: World; readonly state: LiveState; readonly atMs: number },
    private readonly wallMs: () => number,
  ) {}

  /** Goes on with an evening that was begun before the page was away. */
  continue(head: Evening, next: number): void {
    this.head = head;
    this.next = next;
    this.originMs = this.now().state.run?.startedAtMs ?? this.now().atMs;
  }

  /** Another window goes on with it. */
  leave(): void {
    this.head = null;
    this.next = 0;
    this.take();
  }

  /** What was written since it was last taken, in order. */
  take(): EveningEntry[] {
    const { lines } = this;
    this.lines = [];
    this.streams.clear();
    return lines;
  }

  /** @returns whether there is anything to keep. */
  get hasLines(): boolean {
    return this.lines.length > 0;
  }

  came(portId: string, message: Message): void {
    this.message('in', portId, message, null, false);
  }

  sent({ portId, message, lateMs, isTaken }: SentLine): void {
    this.message('out', portId, message, lateMs, !isTaken);
  }

  noted(note: LiveNote, world: World): void {
    switch (note.code) {
      case 'set-began':
        this.begin(world);
        return;
      case 'set-ended':
        this.add({ kind: 'end' });
        if (this.head) this.head = { ...this.head, endedAt: new Date(this.wallMs()).toISOString() };
        return;
      case 'recalled': {
        const song = world.songs[note.songIndex];
        if (song)
          this.add({
            kind: 'scene',
            entryId: song.entryId,
            song: song.song.name,
            scene: song.song.scenes[note.sceneIndex]?.name ?? '',
          });
        return;
      }
      case 'pause':
        this.add({ kind: 'pause', name: note.name });
        return;
      case 'pressed':
        this.add({
          kind: 'press',
          control: world.controls.get(note.controlId)?.control.name ?? '',
          label: note.label,
        });
        return;
      default:
        this.add({ kind: 'note', code: note.code, text: noteSentence(note, world) });
    }
  }

  private begin(world: World): void {
    this.take();
    this.next = 0;
    this.head = {
      id: crypto.randomUUID(),
      rigId: world.show.rig.id,
      setId: world.show.setId ?? null,
      setName: world.show.setName,
      startedAt: new Date(this.wallMs()).toISOString(),
      endedAt: null,
      plan: world.songs.map(({ entryId, song, lengthS }) => ({
        entryId,
        songId: song.id,
        name: song.name,
        lengthS,
      })),
    };
    this.originMs = this.now().state.run?.startedAtMs ?? this.now().atMs;
    this.add({ kind: 'begin' });
  }

  /** Streams of positions, as of pedals and glides, count as one line a while; their ends stand for themselves. */
  private message(
    way: 'in' | 'out',
    portId: string,
    message: Message,
    lateMs: number | null,
    isLost: boolean,
  ): void {
    if (!this.isOpen || PASSING.has(message.kind)) return;
    const { world } = this.now();
    const bytes = hex(encode(message).slice(0, BYTES_AT_MOST));
    const stream = streamOf(message);
    const key = stream && `${way}/${portId}/${stream}`;
    const at = key === null ? undefined : this.streams.get(key);
    const before = at === undefined ? undefined : this.lines[at];
    if (before?.kind === 'message' && before.isLost === isLost) {
      this.lines[there(at)] = {
        ...before,
        bytes,
        times: before.times + 1,
        lateMs: lateMs === null ? null : Math.max(before.lateMs ?? 0, lateMs),
      };
      return;
    }
    this.add({
      kind: 'message',
      way,
      port: portName(world.show.rig, portId),
      bytes,
      times: 1,
      lateMs,
      isLost,
    });
    if (key !== null) this.streams.set(key, this.lines.length - 1);
  }

  /** A set runs, or has ended at this very moment. */
  private get isOpen(): boolean {
    return this.head !== null && this.head.endedAt === null;
  }

  private add(entry: NewEntry): void {
    if (!this.isOpen) return;
    const sinceMs = this.now().atMs - this.originMs;
    const atLeast = this.lines.at(-1)?.atMs ?? 0;
    this.lines.push({
      ...entry,
      number: this.next++,
      atMs: Math.max(0, atLeast, rounded(sinceMs)),
    });
  }
}

const rounded = (ms: number): number => Math.round(ms * 10) / 10;

/** What stream a message is part of; `null` for one that stands for itself. */
function streamOf(message: Message): string | null {
  switch (message.kind) {
    case 'controller':
      return message.value === 0 || message.value === 127 ? null : `${message.channel} ${message.controller}`;
    case 'pitch-bend':
    case 'channel-pressure':
      return `${message.channel} ${message.kind}`;
    default:
      return null;
  }
}
