import type { Kept } from '@idle-step/contract';
import fc from 'fast-check';
import type { AnyDoc } from '../../api/api';
import { draftKey } from '../draftKey';
import { Journal } from './journal';
import { Saver, type SaveRequest } from './saver';
import { keepMine, keepTheirs, stepped, typed, type Draft, type Outcome } from './saving';

/** A server, a bad network and some windows, run on a clock of their own: for tests and for the long run. */

const FIELDS = ['name', 'tempoBpm', 'lengthS', 'beatsPerBar'] as const;
type Field = (typeof FIELDS)[number];
type Song = Record<Field | 'id' | 'rigId', string | number> & { scenes: { id: string; name: string }[] };

const FIRST: Song = {
  id: 'song',
  rigId: 'rig',
  name: 'first',
  tempoBpm: 'first',
  lengthS: 'first',
  beatsPerBar: 'first',
  scenes: [
    { id: 'a', name: 'first' },
    { id: 'b', name: 'first' },
  ],
};
const KEY = draftKey('songs', 'song');

/** Where something is typed: a field, or the name of a scene. */
type Place = Field | 'a' | 'b';
const PLACES: readonly Place[] = [...FIELDS, 'a', 'b'];

const at = (doc: Song, place: Place): string | number =>
  place === 'a' || place === 'b' ? doc.scenes.find((s) => s.id === place)!.name : doc[place];
const withText = (doc: Song, place: Place, text: string): Song =>
  place === 'a' || place === 'b'
    ? { ...doc, scenes: doc.scenes.map((s) => (s.id === place ? { ...s, name: text } : s)) }
    : { ...doc, [place]: text };

type Deed = {
  readonly window: number;
  readonly afterMs: number;
  readonly what: 'type' | 'undo' | 'reload' | 'sleep' | 'look';
  readonly place: number;
};
/** What happens to the nth request: how long it and its answer take, whether either is lost, or comes twice. */
type Fate = {
  readonly thereMs: number;
  readonly backMs: number;
  readonly lost: 'no' | 'request' | 'answer';
  readonly twice: boolean;
};

export const anySavingRun = fc.record({
  windows: fc.integer({ min: 1, max: 3 }),
  /** Whether each window keeps to places of its own: then nobody is ever asked. */
  apart: fc.boolean(),
  deeds: fc.array(
    fc.record({
      window: fc.nat(2),
      afterMs: fc.oneof(fc.nat(300), fc.nat(4000)),
      what: fc.constantFrom('type', 'type', 'type', 'type', 'undo', 'reload', 'sleep', 'look'),
      place: fc.nat(PLACES.length - 1),
    }) as fc.Arbitrary<Deed>,
    { minLength: 1, maxLength: 16 },
  ),
  fates: fc.array(
    fc.record({
      thereMs: fc.nat(1500),
      backMs: fc.nat(1500),
      lost: fc.constantFrom('no', 'no', 'no', 'request', 'answer'),
      twice: fc.boolean(),
    }) as fc.Arbitrary<Fate>,
    { minLength: 1, maxLength: 12 },
  ),
  mine: fc.array(fc.boolean(), { minLength: 1, maxLength: 4 }),
});
export type SavingRun = typeof anySavingRun extends fc.Arbitrary<infer T> ? T : never;

const GOOD: Fate = { thereMs: 5, backMs: 5, lost: 'no', twice: false };
const ANSWER_WITHIN_MS = 5000;

/** Time, and what is to come, in order. */
class Time {
  nowMs = 0;
  private readonly todo: { atMs: number; order: number; call: () => void }[] = [];
  private order = 0;

  after(ms: number, call: () => void): void {
    this.todo.push({ atMs: this.nowMs + ms, order: this.order++, call });
  }

  runUntil(endMs: number): void {
    for (;;) {
      this.todo.sort((a, b) => a.atMs - b.atMs || a.order - b.order);
      const next = this.todo[0];
      if (!next || next.atMs > endMs) break;
      this.todo.shift();
      this.nowMs = Math.max(this.nowMs, next.atMs);
      next.call();
    }
    this.nowMs = Math.max(this.nowMs, endMs);
  }
}

/** Keeps one document as the real one does: a save names the version that it was made from. */
class Server {
  readonly history: Song[] = [FIRST];

  get kept(): Kept<AnyDoc> {
    return keptAt(this.history.at(-1)!, this.history.length);
  }

  save({ doc, version }: SaveRequest): Outcome {
    if (version !== this.history.length) return { kind: 'stale', theirs: this.kept };
    this.history.push(structuredClone(doc) as unknown as Song);
    return { kind: 'kept', kept: this.kept };
  }
}

const keptAt = (doc: Song, version: number): Kept<AnyDoc> => ({
  doc: doc as unknown as AnyDoc,
  version,
  savedAt: `at ${version}`,
});

/** What a browser keeps for all windows. */
class MemoryStorage {
  private readonly items = new Map<string, string>();
  get length(): number {
    return this.items.size;
  }
  key = (index: number): string | null => [...this.items.keys()][index] ?? null;
  getItem = (key: string): string | null => this.items.get(key) ?? null;
  setItem = (key: string, value: string): void => void this.items.set(key, value);
  removeItem = (key: string): void => void this.items.delete(key);
}

class Window {
  draft: Draft | undefined;
  /** What this window was told last that is kept. */
  kept: Kept<AnyDoc>;
  conflicts = 0;
  private life = 0;
  private sleepsUntilMs = 0;
  private saver: Saver;
  private journal: Journal;
  private order = 0;

  constructor(
    private readonly id: string,
    private readonly time: Time,
    private readonly server: Server,
    private readonly storage: MemoryStorage,
    private readonly fate: () => Fate,
  ) {
    this.kept = server.kept;
    this.saver = this.newSaver();
    this.journal = new Journal(storage, id);
  }

  get text(): Song {
    return (this.draft?.status.kind === 'saved' && this.draft.version < this.kept.version
      ? this.kept.doc
      : (this.draft?.doc ?? this.kept.doc)) as unknown as Song;
  }

  type(place: Place, text: string): void {
    const doc = withText(this.text, place, text) as unknown as AnyDoc;
    this.change(typed(this.draft, 'songs', this.kept, doc, { label: text, order: ++this.order }));
  }

  undo(): void {
    if (this.draft && this.draft.past.length > 0) this.change(stepped(this.draft, 'undo', 0));
  }

  /** The page is loaded anew: what is left is what was written down. */
  reload(): void {
    this.life++;
    this.sleepsUntilMs = 0;
    this.draft = undefined;
    this.kept = this.server.kept;
    this.journal = new Journal(this.storage, this.id);
    this.saver = this.newSaver();
    const [found] = this.journal.left(() => true);
    if (found) this.change(found.draft);
  }

  sleep(ms: number): void {
    this.sleepsUntilMs = this.time.nowMs + ms;
  }

  /** What is kept is fetched anew. */
  look(): void {
    this.kept = this.server.kept;
  }

  settle(mine: boolean): void {
    if (this.draft?.status.kind !== 'conflict') return;
    this.change(mine ? keepMine(this.draft) : keepTheirs(this.draft, ++this.order));
  }

  private change(next: Draft): void {
    if (next.status.kind === 'conflict' && this.draft?.status.kind !== 'conflict') this.conflicts++;
    this.draft = next;
    this.journal.note(KEY, next);
    this.saver.look(KEY);
  }

  private newSaver(): Saver {
    const { life } = this;
    const alive = (call: () => void): void => {
      if (life !== this.life) return;
      // A window that sleeps does nothing until it wakes.
      if (this.time.nowMs >= this.sleepsUntilMs) call();
      else this.time.after(this.sleepsUntilMs - this.time.nowMs, () => alive(call));
    };
    return new Saver({
      draft: () => this.draft,
      change: (_, next) => this.change(next),
      after: (ms, call) => this.time.after(ms, () => alive(call)),
      send: (request, answer) => {
        const { thereMs, backMs, lost, twice } = this.fate();
        let isOver = false;
        const come = (outcome: Outcome) =>
          alive(() => {
            if (outcome.kind === 'kept') this.kept = outcome.kept;
            if (outcome.kind === 'stale') this.kept = outcome.theirs;
            isOver = true;
            answer(outcome);
          });
        if (lost !== 'request')
          this.time.after(thereMs, () => {
            const outcome = this.server.save(request);
            if (lost === 'answer') return;
            this.time.after(backMs, () => come(outcome));
            if (twice) this.time.after(backMs + 700, () => come(outcome));
          });
        this.time.after(ANSWER_WITHIN_MS, () => {
          if (!isOver) come({ kind: 'lost' });
        });
      },
    });
  }
}

/** Plays a run to its end and gives what does not hold, or `null`. */
export function whatSavingLoses(run: SavingRun): string | null {
  const time = new Time();
  const server = new Server();
  const storage = new MemoryStorage();
  let requests = 0;
  let isCalm = false;
  const fate = () => (isCalm ? GOOD : (run.fates[requests++ % run.fates.length] ?? GOOD));
  const windows = Array.from(
    { length: run.windows },
    (_, i) => new Window(`w${i}`, time, server, storage, fate),
  );
  /** Every text that was typed: where, and by which window; undone ones are not wished for any more. */
  const last = new Map<string, { place: Place; window: number; text: string }>();
  const typists = new Map<Place, Set<number>>();
  let n = 0;
  let atMs = 0;
  for (const deed of run.deeds) {
    atMs += deed.afterMs;
    time.runUntil(atMs);
    const index = deed.window % run.windows;
    const window = windows[index]!;
    const place = PLACES[run.apart ? (index * 2 + (deed.place % 2)) % PLACES.length : deed.place]!;
    switch (deed.what) {
      case 'type': {
        const text = `${index}-${++n}`;
        window.type(place, text);
        last.set(`${index} ${place}`, { place, window: index, text });
        typists.set(place, (typists.get(place) ?? new Set()).add(index));
        break;
      }
      case 'undo': {
        window.undo();
        for (const [key, wish] of last)
          if (wish.window === index) last.set(key, { ...wish, text: String(at(window.text, wish.place)) });
        break;
      }
      case 'reload': {
        const isOpen = window.draft?.status.kind === 'conflict';
        window.reload();
        if (isOpen && window.draft?.status.kind !== 'conflict')
          return 'a conflict that was left open is forgotten';
        break;
      }
      case 'sleep':
        window.sleep(8000);
        break;
      case 'look':
        window.look();
        break;
    }
  }
  isCalm = true;
  for (let round = 0; round < 60; round++) {
    time.runUntil(time.nowMs + 6000);
    windows.forEach((w, i) => w.settle(run.mine[(round + i) % run.mine.length]!));
  }
  const conflicts = windows.reduce((sum, w) => sum + w.conflicts, 0);
  const final = server.history.at(-1)!;
  const unsettled = windows.filter((w) => w.draft && w.draft.status.kind !== 'saved');
  if (unsettled.length > 0) return `a window ends ${unsettled[0]!.draft!.status.kind}`;
  const isShared = [...typists.values()].some((who) => who.size > 1);
  if (conflicts > 0 && !isShared) return 'a window was asked about its own text';
  for (const [place, who] of typists) {
    const wishes = [...last.values()].filter((w) => w.place === place);
    const kept = String(at(final, place));
    // Where only one window typed, its last text stands; where several did, the last text of one of them.
    if (
      !wishes.some((w) => w.text === kept) &&
      !(who.size > 1 && server.history.some((d) => String(at(d, place)) === kept))
    )
      return `${place} is ${kept}, and ${wishes.map((w) => w.text).join(' or ')} was typed`;
    for (const wish of wishes) {
      const wasKept = server.history.some((d) => String(at(d, place)) === wish.text);
      if (!wasKept && who.size === 1) return `${wish.text} of ${place} was never kept`;
      // Of several writers a text may only go without having been kept where somebody was asked.
      if (!wasKept && conflicts === 0) return `${wish.text} of ${place} went without a question`;
    }
  }
  return null;
}
