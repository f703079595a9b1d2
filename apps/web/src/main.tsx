import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { BrowserRouter } from 'react-router-dom';
import { App } from './App';
import { rememberScreen } from './screen/screenSlice';
import { saveOnLeaving } from './drafts/saving/leaving';
import { resumeSaving } from './drafts/saving/thisWindow';
import { bringBack } from './evening/bringBack';
import { EveningKeeper } from './evening/EveningKeeper';
import { EveningStore } from './evening/eveningStore';
import { keepHere } from './evening/keepHere';
import { keepApp } from './evening/keptApp';
import { EveningContext } from './evening/useEvening';
import { WindowClock } from './live/clock';
import { LiveHost } from './live/LiveHost';
import { browserPorts } from './live/ports/midiPorts';
import { LiveContext } from './live/use/useLive';
import { keepBoardRecords } from './records/boardRecords';
import { keepChecks } from './records/checkRecords';
import { keepDumps } from './records/dumpRecords';
import { RecordKeeper } from './records/recordKeeper';
import { RecordContext } from './records/useRecords';
import { autosave, store } from './store';
import { fetchRest } from './ui/inPieces';
import { NoticeHolder } from './ui/hooks/useUndoNotice';
import './theme/index.scss';

const host = new LiveHost(new WindowClock(), browserPorts());
const eveningStore = new EveningStore();
const evening = new EveningKeeper(host, eveningStore);
void bringBack(host, eveningStore, evening);
keepHere(host, store);
const records = new RecordKeeper(store);
keepBoardRecords(host, records);
keepChecks(host, records);
keepDumps(host, records);
saveOnLeaving(store.getState, autosave);
void resumeSaving(autosave);

let remembered = store.getState().screen;
store.subscribe(() => {
  const { screen } = store.getState();
  if (screen === remembered) return;
  remembered = screen;
  rememberScreen(screen);
});

// The rest of the page comes while nobody waits for it.
window.setTimeout(() => {
  void keepApp(() => host.now().state.run === null);
  void fetchRest();
}, 3000);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <LiveContext value={host}>
        <EveningContext value={evening}>
          <RecordContext value={records}>
            <BrowserRouter>
              <NoticeHolder>
                <App />
              </NoticeHolder>
            </BrowserRouter>
          </RecordContext>
        </EveningContext>
      </LiveContext>
    </Provider>
  </StrictMode>,
);
