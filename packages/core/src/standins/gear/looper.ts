import type { ChartTemplate } from '../../gear';
import type { Message } from '../../midi';
import { barMs, hearTempo, PLAIN_TEMPO, type ClockTempo } from '../clockTempo';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';
import { lastOf, nth } from '../../sure';

/** A stretch of a loop that has sound in it, ms from its beginning. */
export type Span = { readonly fromMs: number; readonly toMs: number };

export type Loop = { readonly lengthMs: number; readonly content: readonly Span[] };

export type LooperPhase = 'empty' | 'recording' | 'playing' | 'overdubbing' | 'stopped';

export type LooperTrack = {
  readonly phase: LooperPhase;
  readonly loop: Loop | null;
  /** When its beginning was passed first, when recording or overdubbing began. */
  readonly startedAtMs: number;
  readonly takenFromMs: number;
  /** When it stops by itself, at the end of its loop. */
  readonly stopsAtMs: number | null;
  readonly before: readonly (Loop | null)[];
  readonly after: readonly (Loop | null)[];
  readonly inputs: readonly [boolean, boolean];
  readonly level: number;
  readonly feedback: number;
};

/** A looper of four tracks. */
export type LooperState = {
  readonly tracks: readonly LooperTrack[];
  readonly selected: number;
  /** Bars after which a recording closes by itself, 0 for as long as it is played. */
  readonly bars: number;
  /** Doubling repeats the content in place of silence. */
  readonly doubleRepeats: boolean;
  readonly tempo: ClockTempo;
  /** What it did last, or why it did not. */
  readonly said: string;
};

export const LOOPER_TRACKS = 4;
const LENGTHS = [0, 1, 2, 4, 8] as const;
/** Shown tempo is this much above what is sent. */
const TEMPO_FROM = 60;
/** Steps that undo remembers. Invented gear, invented figure. */
const UNDO_STEPS = 8;

const CC = {
  record: 27,
  allStart: 40,
  allStop: 41,
  stopNow: 42,
  clearAll: 43,
  stop: 44,
  undo: 48,
  redo: 52,
  clear: 56,
  double: 60,
  halve: 61,
  repeats: 62,
  next: 70,
  previous: 71,
  track: 72,
  length: 73,
  inputA: 74,
  inputB: 75,
  tempo: 76,
  level: 7,
  feedback: 11,
} as const;

const four = [0, 1, 2, 3];
const press: ChartTemplate['shape'] = { kind: 'trigger', sent: 127 };
const each = (name: string, first: number): ChartTemplate[] =>
  four.map((i) => controllerRow(`${name} ${i + 1}`, first + i, press));

/** The channel after its own one follows the track that is selected. */
const SELECTED = 'the track selected now';
const onSelected = (...row: Parameters<typeof controllerRow>): ChartTemplate => ({
  ...controllerRow(...row),
  extraChannel: SELECTED,
});

const EMPTY: LooperTrack = {
  phase: 'empty',
  loop: null,
  startedAtMs: 0,
  takenFromMs: 0,
  stopsAtMs: null,
  before: [],
  after: [],
  inputs: [true, false],
  level: 100,
  feedback: 127,
};

export const looper: StandIn<LooperState> = {
  title: 'Looper',
  chart: [
    ...each('Record', CC.record),
    ...each('Stop', CC.stop),
    ...each('Undo', CC.undo),
    ...each('Redo', CC.redo),
    ...each('Clear', CC.clear),
    controllerRow('All start', CC.allStart, press),
    controllerRow('All stop', CC.allStop, press),
    controllerRow('Stop at once', CC.stopNow, press),
    controllerRow('Clear all', CC.clearAll, press),
    onSelected('Record selected', CC.record, press),
    onSelected('Stop selected', CC.stop, press),
    onSelected('Clear selected', CC.clear, press),
    controllerRow('Double', CC.double, press),
    controllerRow('Halve', CC.halve, press),
    controllerRow('Doubling repeats', CC.repeats, switchShape),
    controllerRow('Next track', CC.next, press),
    controllerRow('Previous track', CC.previous, press),
    controllerRow('Track', CC.track, {
      kind: 'choice',
      first: 0,
      shownFrom: 1,
      labels: ['1', '2', '3', '4'],
    }),
    controllerRow('Length', CC.length, {
      kind: 'choice',
      first: 0,
      shownFrom: 1,
      labels: LENGTHS.map((n) => (n === 0 ? 'free' : `${n} ${n === 1 ? 'bar' : 'bars'}`)),
    }),
    controllerRow('Input A', CC.inputA, switchShape),
    controllerRow('Input B', CC.inputB, switchShape),
    controllerRow('Tempo', CC.tempo, { kind: 'range', min: 0, max: 127, shownFrom: TEMPO_FROM }),
    controllerRow('Level', CC.level, rangeShape),
    controllerRow('Feedback', CC.feedback, rangeShape),
  ],
  extraChannel: { name: SELECTED, above: 1 },
  initial: {
    tracks: four.map(() => EMPTY),
    selected: 0,
    bars: 0,
    doubleRepeats: false,
    tempo: PLAIN_TEMPO,
    said: '',
  },
  receive(state, message, channel, atMs) {
    const tempo = hearTempo(state.tempo, message, atMs);
    if (tempo !== state.tempo) return { ...state, tempo };
    if (message.kind !== 'controller') return state;
    const now = looperAt(state, atMs);
    if (message.channel === channel + 1) return receiveSelected(now, message, atMs);
    return message.channel === channel ? receiveOwn(now, message, atMs) : state;
  },
};

/** The looper as it is at a time: recordings of a fixed length have closed, tracks at their end have stopped. */
export function looperAt(state: LooperState, atMs: number): LooperState {
  let next = state;
  state.tracks.forEach((track, i) => {
    const endMs = track.takenFromMs + state.bars * barMs(state.tempo.bpm);
    if (track.phase === 'recording' && state.bars > 0 && atMs >= endMs)
      next = change(next, i, close(track, endMs));
    const settled = nth(next.tracks, i);
    if (settled.stopsAtMs !== null && atMs >= settled.stopsAtMs)
      next = change(next, i, { ...settled, phase: 'stopped', stopsAtMs: null });
  });
  return next;
}

/** Where a loop is, 0–1, or `null` when it does not run. */
export function loopPosition(track: LooperTrack, atMs: number): number | null {
  if (!track.loop || (track.phase !== 'playing' && track.phase !== 'overdubbing')) return null;
  return (
    ((((atMs - track.startedAtMs) % track.loop.lengthMs) + track.loop.lengthMs) % track.loop.lengthMs) /
    track.loop.lengthMs
  );
}

/** The share of a loop that has sound in it, 0–1. */
export function contentShare({ lengthMs, content }: Loop): number {
  let sounding = 0;
  let reachedMs = 0;
  for (const { fromMs, toMs } of [...content].sort((a, b) => a.fromMs - b.fromMs)) {
    sounding += Math.max(0, toMs - Math.max(fromMs, reachedMs));
    reachedMs = Math.max(reachedMs, toMs);
  }
  return sounding / lengthMs;
}

const change = (state: LooperState, index: number, track: LooperTrack, said = state.said): LooperState => ({
  ...state,
  said,
  tracks: withAt(state.tracks, index, track),
});

function receiveOwn(
  state: LooperState,
  message: Message & { kind: 'controller' },
  atMs: number,
): LooperState {
  const { controller, value } = message;
  const on = value >= 64;
  const at = (first: number) =>
    controller >= first && controller < first + LOOPER_TRACKS ? controller - first : -1;
  if (controller === CC.repeats)
    return { ...state, doubleRepeats: on, said: `doubling ${on ? 'repeats' : 'pads'}` };
  if (controller === CC.track) return value < LOOPER_TRACKS ? select(state, value) : state;
  if (controller === CC.length)
    return LENGTHS[value] === undefined ? state : { ...state, bars: LENGTHS[value], said: 'length set' };
  if (controller === CC.tempo)
    return {
      ...state,
      tempo: { ...state.tempo, bpm: TEMPO_FROM + value },
      said: `${TEMPO_FROM + value} bpm`,
    };
  if (controller === CC.inputA || controller === CC.inputB)
    return routeInput(state, controller - CC.inputA, on);
  if (controller === CC.level || controller === CC.feedback) return receiveSelected(state, message, atMs);
  // A button that goes up says nothing.
  if (value === 0) return state;
  if (at(CC.record) >= 0) return record(state, at(CC.record), atMs);
  if (at(CC.stop) >= 0) return stop(state, at(CC.stop), atMs);
  if (at(CC.undo) >= 0) return goBack(state, at(CC.undo), 'before', 'after');
  if (at(CC.redo) >= 0) return goBack(state, at(CC.redo), 'after', 'before');
  if (at(CC.clear) >= 0) return clear(state, at(CC.clear));
  switch (controller) {
    case CC.allStart:
      return {
        ...forAll(state, (t) => (t.phase === 'stopped' ? { ...t, phase: 'playing', startedAtMs: atMs } : t)),
        said: 'all started',
      };
    case CC.allStop:
      return { ...forAll(state, (t) => stopAtEnd(t, atMs)), said: 'all stop at their ends' };
    case CC.stopNow:
      return { ...forAll(state, (t) => halt(t, atMs)), said: 'all stopped at once' };
    case CC.clearAll:
      return { ...forAll(state, cleared), said: 'all cleared' };
    case CC.double:
      return resize(state, 'doubled', (loop) => doubled(loop, state.doubleRepeats));
    case CC.halve:
      return resize(state, 'halved', halved);
    case CC.next:
      return select(state, (state.selected + 1) % LOOPER_TRACKS);
    case CC.previous:
      return select(state, (state.selected + LOOPER_TRACKS - 1) % LOOPER_TRACKS);
    default:
      return state;
  }
}

function receiveSelected(
  state: LooperState,
  { controller, value }: Message & { kind: 'controller' },
  atMs: number,
): LooperState {
  const { selected } = state;
  if (value > 0 && controller === CC.record) return record(state, selected, atMs);
  if (value > 0 && controller === CC.stop) return stop(state, selected, atMs);
  if (value > 0 && controller === CC.clear) return clear(state, selected);
  const track = nth(state.tracks, selected);
  if (controller === CC.level) return change(state, state.selected, { ...track, level: value });
  return controller === CC.feedback ? change(state, state.selected, { ...track, feedback: value }) : state;
}

/** What a track is routed from and how loud it is stays when its loop goes. */
const cleared = ({ inputs, level, feedback }: LooperTrack): LooperTrack => ({
  ...EMPTY,
  inputs,
  level,
  feedback,
});

const clear = (state: LooperState, index: number): LooperState =>
  change(state, index, cleared(nth(state.tracks, index)), `${index + 1} cleared`);

const select = (state: LooperState, selected: number): LooperState => ({
  ...state,
  selected,
  said: `track ${selected + 1} selected`,
});

function routeInput(state: LooperState, input: number, on: boolean): LooperState {
  const track = nth(state.tracks, state.selected);
  const inputs: [boolean, boolean] = input === 0 ? [on, track.inputs[1]] : [track.inputs[0], on];
  return change(
    state,
    state.selected,
    { ...track, inputs },
    `input ${input === 0 ? 'A' : 'B'} ${on ? 'on' : 'off'}`,
  );
}

const forAll = (state: LooperState, of: (track: LooperTrack) => LooperTrack): LooperState => ({
  ...state,
  tracks: state.tracks.map(of),
});

/** Record, then close and play, then overdub, then play on. */
function record(state: LooperState, index: number, atMs: number): LooperState {
  const track = nth(state.tracks, index);
  const name = index + 1;
  const chosen = { ...state, selected: index };
  switch (track.phase) {
    case 'empty':
      return change(chosen, index, { ...track, phase: 'recording', takenFromMs: atMs }, `${name} records`);
    case 'recording':
      return change(chosen, index, close(track, atMs), `${name} plays`);
    case 'playing':
      return change(
        chosen,
        index,
        { ...remembered(track), phase: 'overdubbing', takenFromMs: atMs },
        `${name} overdubs`,
      );
    case 'overdubbing':
      return change(chosen, index, { ...overdubbed(track, atMs), phase: 'playing' }, `${name} plays`);
    case 'stopped':
      return change(chosen, index, { ...track, phase: 'playing', startedAtMs: atMs }, `${name} plays`);
  }
}

/** A recording becomes a loop that plays from its beginning. With no input into it, it is silent. */
function close(track: LooperTrack, atMs: number): LooperTrack {
  const lengthMs = Math.max(1, atMs - track.takenFromMs);
  const content = track.inputs.some(Boolean) ? [{ fromMs: 0, toMs: lengthMs }] : [];
  return { ...track, phase: 'playing', loop: { lengthMs, content }, startedAtMs: atMs };
}

const remembered = (track: LooperTrack): LooperTrack => ({
  ...track,
  before: [...track.before, track.loop].slice(-UNDO_STEPS),
  after: [],
});

/** What was overdubbed is laid over the loop, round its end where it went on. */
function overdubbed(track: LooperTrack, atMs: number): LooperTrack {
  const { loop } = track;
  if (!loop || !track.inputs.some(Boolean)) return track;
  const { lengthMs } = loop;
  const takenMs = atMs - track.takenFromMs;
  const fromMs = (((track.takenFromMs - track.startedAtMs) % lengthMs) + lengthMs) % lengthMs;
  const toMs = fromMs + takenMs;
  const spans =
    takenMs >= lengthMs
      ? [{ fromMs: 0, toMs: lengthMs }]
      : toMs <= lengthMs
        ? [{ fromMs, toMs }]
        : [
            { fromMs, toMs: lengthMs },
            { fromMs: 0, toMs: toMs - lengthMs },
          ];
  return { ...track, loop: { lengthMs, content: [...loop.content, ...spans] } };
}

function halt(track: LooperTrack, atMs: number): LooperTrack {
  switch (track.phase) {
    case 'recording':
      return { ...close(track, atMs), phase: 'stopped' };
    case 'overdubbing':
      return { ...overdubbed(track, atMs), phase: 'stopped', stopsAtMs: null };
    case 'playing':
      return { ...track, phase: 'stopped', stopsAtMs: null };
    default:
      return track;
  }
}

function stopAtEnd(track: LooperTrack, atMs: number): LooperTrack {
  const position = loopPosition(track, atMs);
  if (position === null || !track.loop) return halt(track, atMs);
  const ended =
    track.phase === 'overdubbing' ? { ...overdubbed(track, atMs), phase: 'playing' as const } : track;
  return { ...ended, stopsAtMs: atMs + (1 - position) * track.loop.lengthMs };
}

function stop(state: LooperState, index: number, atMs: number): LooperState {
  const track = nth(state.tracks, index);
  if (track.phase === 'empty' || track.phase === 'stopped')
    return { ...state, said: `${index + 1} does not run: nothing to stop` };
  return change(state, index, halt(track, atMs), `${index + 1} stopped`);
}

/** Undo and redo of what was laid over a loop. */
function goBack(
  state: LooperState,
  index: number,
  from: 'before' | 'after',
  to: 'before' | 'after',
): LooperState {
  const track = nth(state.tracks, index);
  const word = from === 'before' ? 'undo' : 'redo';
  if (track[from].length === 0) return { ...state, said: `${index + 1}: nothing to ${word}` };
  const moved = { ...track, [from]: track[from].slice(0, -1), [to]: [...track[to], track.loop] };
  return change(
    state,
    index,
    { ...moved, loop: lastOf(track[from]) },
    `${index + 1} ${word}ne`.replace('redone', 'done again'),
  );
}

function resize(state: LooperState, word: string, of: (loop: Loop) => Loop): LooperState {
  const track = nth(state.tracks, state.selected);
  if (!track.loop) return { ...state, said: `${state.selected + 1} is empty: nothing to be ${word}` };
  return change(
    state,
    state.selected,
    { ...remembered(track), loop: of(track.loop) },
    `${state.selected + 1} ${word}`,
  );
}

/** Twice as long: silence behind it, or itself again. */
function doubled({ lengthMs, content }: Loop, repeats: boolean): Loop {
  const again = content.map(({ fromMs, toMs }) => ({ fromMs: fromMs + lengthMs, toMs: toMs + lengthMs }));
  return { lengthMs: lengthMs * 2, content: repeats ? [...content, ...again] : content };
}

/** Half as long: what lay in the second half is gone. */
function halved({ lengthMs, content }: Loop): Loop {
  const half = lengthMs / 2;
  return {
    lengthMs: half,
    content: content.flatMap((s) =>
      s.fromMs < half ? { fromMs: s.fromMs, toMs: Math.min(half, s.toMs) } : [],
    ),
  };
}
