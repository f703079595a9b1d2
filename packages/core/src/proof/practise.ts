import { initialState, placeOf, step, type LiveState, type World } from '../engine';
import { partName } from '../show';

/** A part of the set that is gone to: which switch leads there from the part before it? */
export type PractiseQuestion = {
  readonly songIndex: number;
  readonly partIndex: number;
  /** What the part is called. */
  readonly name: string;
};

/** How it went in one song. Times in ms. */
export type PractiseCount = {
  readonly songIndex: number;
  readonly asked: number;
  /** Answered with the first press that leads anywhere. */
  readonly right: number;
  readonly totalMs: number;
};

/** Practising: the question that is asked, and how it went so far. Plain data. */
export type Practise = {
  readonly questions: readonly PractiseQuestion[];
  /** The question that is asked; as many as there are once all are answered. */
  readonly at: number;
  readonly askedAtMs: number;
  /** Presses for this question that led elsewhere. */
  readonly misses: number;
  readonly counts: readonly PractiseCount[];
  /** The rig as the feet have brought it: what switches do now. */
  readonly state: LiveState;
};

/** What came of a press: it led there, elsewhere, or turned a page on the way. */
export type PractiseAnswer = 'right' | 'wrong' | 'on-the-way';

/** Every part of the set in order, and its first scene in play already. */
export function beginPractise(world: World, nowMs: number): Practise {
  const all = world.songs.flatMap(({ song, parts }, songIndex) =>
    parts.map((part, partIndex) => ({ songIndex, partIndex, name: partName(song, part) })),
  );
  const [first, ...questions] = all;
  const plain = initialState(world, nowMs);
  const state = first
    ? step(world, plain, {
        kind: 'command',
        atMs: nowMs,
        command: { kind: 'song', to: { index: first.songIndex } },
      }).state
    : plain;
  return { questions, at: 0, askedAtMs: nowMs, misses: 0, counts: [], state };
}

/** How long a foot stays on a switch, in ms: a press, and no hold. */
const PRESS_MS = 60;
/** After this long every gesture has told itself apart. */
const OVER_MS = 3000;

/**
 * A switch is pressed. Where it leads to what was asked for, the next question is asked; where it turns a bank or a page
 * it does so; anything else counts as a miss and changes nothing.
 */
export function answerPractise(
  world: World,
  practise: Practise,
  controlId: string,
  nowMs: number,
): { readonly practise: Practise; readonly answer: PractiseAnswer } {
  const question = practise.questions[practise.at];
  const before = practise.state;
  if (!question) return { practise, answer: 'wrong' };
  const atMs = before.atMs + 1;
  const down = step(world, before, {
    kind: 'command',
    atMs,
    command: { kind: 'switch', controlId, velocity: 127 },
  });
  const up = step(world, down.state, {
    kind: 'command',
    atMs: atMs + PRESS_MS,
    command: { kind: 'switch', controlId, velocity: 0 },
  });
  const { state } = step(world, up.state, { kind: 'tick', atMs: atMs + PRESS_MS + OVER_MS });
  const place = placeOf(world, state);
  if (place.songIndex === question.songIndex && place.partIndex === question.partIndex)
    return { practise: counted(practise, question, state, nowMs), answer: 'right' };
  const isSamePlace = state.position === before.position;
  if (isSamePlace && (state.banks !== before.banks || state.pages !== before.pages))
    return { practise: { ...practise, state }, answer: 'on-the-way' };
  return { practise: { ...practise, misses: practise.misses + 1 }, answer: 'wrong' };
}

function counted(
  practise: Practise,
  { songIndex }: PractiseQuestion,
  state: LiveState,
  nowMs: number,
): Practise {
  const before = practise.counts.find((c) => c.songIndex === songIndex);
  const next: PractiseCount = {
    songIndex,
    asked: (before?.asked ?? 0) + 1,
    right: (before?.right ?? 0) + (practise.misses === 0 ? 1 : 0),
    totalMs: (before?.totalMs ?? 0) + (nowMs - practise.askedAtMs),
  };
  const others = practise.counts.filter((c) => c !== before);
  return {
    ...practise,
    at: practise.at + 1,
    askedAtMs: nowMs,
    misses: 0,
    counts: [...others, next].sort((a, b) => a.songIndex - b.songIndex),
    state,
  };
}
