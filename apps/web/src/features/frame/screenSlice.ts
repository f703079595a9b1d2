import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What the person chose of the screen itself, and what is selected where. Remembered from visit to visit. */
export type ScreenState = {
  readonly rigId: string | null;
  readonly setId: string | null;
  readonly drawerFolded: boolean;
  /** The monitor lies wide over the place. */
  readonly monitorWide: boolean;
  readonly dockFolded: boolean;
  /** The stage: blackout, or daylight for an open deck in the sun. */
  readonly stageTheme: 'dark' | 'light';
  readonly theme: 'dark' | 'light';
};

const KEY = 'idle-step.screen';

function remembered(): Partial<ScreenState> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<ScreenState>;
  } catch {
    return {};
  }
}

const slice = createSlice({
  name: 'screen',
  initialState: (): ScreenState => ({
    rigId: null,
    setId: null,
    drawerFolded: window.innerWidth < 1200,
    monitorWide: false,
    dockFolded: false,
    stageTheme: 'dark',
    theme: 'light',
    ...remembered(),
  }),
  reducers: {
    screenChanged: (state, { payload }: PayloadAction<Partial<ScreenState>>) => ({ ...state, ...payload }),
  },
});

export const rememberScreen = (state: ScreenState): void => {
  try {
    localStorage.setItem(KEY, JSON.stringify(state));
  } catch {
    // A browser that refuses storage forgets the choice; nothing else depends on it.
  }
};

export const screenReducer = slice.reducer;
export const { screenChanged } = slice.actions;
