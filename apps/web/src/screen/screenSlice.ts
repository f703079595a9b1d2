import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';
import { lasting } from '../storage/keptTexts';
import { isRecord } from '@idle-step/core/sure';

/** What the person chose of the screen itself, and what is selected where. Remembered from visit to visit. */
export type ScreenState = {
  readonly rigId: string | null;
  readonly setId: string | null;
  /** The floor along the bottom and the monitor: open, folded, or by themselves as something comes. */
  readonly dock: Fold;
  readonly monitor: Fold;
  /** The monitor lies wide over the place. */
  readonly monitorWide: boolean;
  /** The map of the rig is a strip of its devices. */
  readonly mapFolded: boolean;
  /** The stage: blackout, or daylight for an open deck in the sun. */
  readonly stageTheme: 'dark' | 'light';
  readonly theme: 'dark' | 'light';
  /** A click on the large board of Floor plays the control; otherwise it only opens it. */
  readonly floorPlays: boolean;
  /** How large the smaller texts of the stage are. */
  readonly stageText: (typeof STAGE_TEXTS)[number];
  /** Parts of the stage that are left out. */
  readonly stageHidden: readonly StagePart[];
  /** What a port that comes back while playing is told. */
  readonly afterPort: 'again' | 'leave';
  /** A count-in is heard as clicks, and not only seen. */
  readonly countInHeard: boolean;
  /** The digit keys press switches. */
  readonly keysPlay: boolean;
  /** Places in which something was done: they need not say any more what they are for. */
  readonly usedPlaces: readonly Place[];
};

export const FOLDS = ['auto', 'open', 'folded'] as const;
export type Fold = (typeof FOLDS)[number];

export const STAGE_TEXTS = ['normal', 'large', 'largest'] as const;
export const STAGE_PARTS = ['times', 'next', 'tempo', 'armed', 'pedals', 'minors', 'marks', 'sent'] as const;
export type StagePart = (typeof STAGE_PARTS)[number];

export const PLACES = ['rig', 'floor', 'routes', 'songs', 'sets'] as const;
export type Place = (typeof PLACES)[number];

const KEY = 'idle-step.screen';

/** What each part may be; one that was spoiled is as on the first visit. */
const PARTS = {
  rigId: z.string().nullable(),
  setId: z.string().nullable(),
  dock: z.enum(FOLDS),
  monitor: z.enum(FOLDS),
  monitorWide: z.boolean(),
  mapFolded: z.boolean(),
  stageTheme: z.enum(['dark', 'light']),
  theme: z.enum(['dark', 'light']),
  floorPlays: z.boolean(),
  stageText: z.enum(STAGE_TEXTS),
  stageHidden: z.array(z.enum(STAGE_PARTS)).max(STAGE_PARTS.length),
  afterPort: z.enum(['again', 'leave']),
  countInHeard: z.boolean(),
  keysPlay: z.boolean(),
  usedPlaces: z.array(z.enum(PLACES)).max(PLACES.length),
} satisfies { readonly [K in keyof ScreenState]: z.ZodType<ScreenState[K]> };

/** The parts of a remembered text that hold; whatever it is, nothing else comes of it. */
export function readScreen(text: string | null): Partial<ScreenState> {
  let value: unknown;
  try {
    value = JSON.parse(text ?? 'null');
  } catch {
    return {};
  }
  if (!isRecord(value)) return {};
  return Object.fromEntries(
    Object.entries(PARTS).flatMap(([key, schema]) => {
      const read = Object.hasOwn(value, key) ? schema.safeParse(value[key]) : null;
      return read?.success ? [[key, read.data]] : [];
    }),
  );
}

function remembered(): Partial<ScreenState> {
  try {
    return readScreen(lasting.store.getItem(KEY));
  } catch {
    return {};
  }
}

const slice = createSlice({
  name: 'screen',
  initialState: (): ScreenState => ({
    rigId: null,
    setId: null,
    dock: 'auto',
    monitor: 'auto',
    monitorWide: false,
    mapFolded: false,
    stageTheme: 'dark',
    theme: 'light',
    floorPlays: false,
    stageText: 'normal',
    stageHidden: [],
    afterPort: 'again',
    countInHeard: true,
    keysPlay: false,
    usedPlaces: [],
    ...remembered(),
  }),
  reducers: {
    screenChanged: (state, { payload }: PayloadAction<Partial<ScreenState>>) => ({ ...state, ...payload }),
  },
});

export const rememberScreen = (state: ScreenState): void => {
  try {
    lasting.store.setItem(KEY, JSON.stringify(state));
  } catch {
    // A browser that refuses storage forgets the choice; nothing else depends on it.
  }
};

export const screenReducer = slice.reducer;
export const { screenChanged } = slice.actions;
