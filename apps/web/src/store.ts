import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api/api';
import { withOtherWindows } from './drafts/saving/otherWindows';
import { Autosave } from './drafts/saving/autosave';
import { draftsReducer } from './drafts/draftsSlice';
import { screenReducer } from './screen/screenSlice';

export const autosave = new Autosave();

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, drafts: draftsReducer, screen: screenReducer },
  middleware: (getDefault) =>
    getDefault().prepend(autosave.middleware, withOtherWindows).concat(api.middleware),
});

setupListeners(store.dispatch);

export type RootState = {
  api: ReturnType<typeof api.reducer>;
  drafts: ReturnType<typeof draftsReducer>;
  screen: ReturnType<typeof screenReducer>;
};
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
