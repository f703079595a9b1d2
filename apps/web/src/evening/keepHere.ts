import type { LiveHost } from '../live/LiveHost';
import { Metronome } from '../live/sound/metronome';
import { screenChanged } from '../screen/screenSlice';
import type { store as Store } from '../store';

/** Does on this computer what is switched of it while playing: the click, and how light the stage is. */
export function keepHere(host: LiveHost, store: typeof Store): void {
  const click = new Metronome(() => host.now().state.tempo);
  let done = host.getSnapshot().state.here;
  const look = () => {
    const { here } = host.getSnapshot().state;
    if (here === done) return;
    done = here;
    if (here.click) click.start();
    else click.stop();
    const stageTheme = here.blackout ? 'dark' : 'light';
    if (store.getState().screen.stageTheme !== stageTheme) store.dispatch(screenChanged({ stageTheme }));
  };
  const { stageTheme } = store.getState().screen;
  host.command({ kind: 'here', thing: 'blackout', to: stageTheme === 'dark' ? 'on' : 'off' });
  host.subscribe(look);
}
