import { useEffect, useState, type ReactNode } from 'react';
import { useAppSelector } from '../../store';
import { Conflicts } from './Conflicts';
import { Dock } from './Dock';
import { MonitorDrawer } from '../monitor/MonitorDrawer';
import { Rail } from './Rail';
import { SavingOff } from './SavingOff';
import { ShortcutList } from './ShortcutList';
import { TopStrip } from './TopStrip';
import { WireSlotContext } from './wireSlot';

/** The frame around every place but the stage. */
export function Frame({ children }: { children: ReactNode }) {
  const { drawerFolded, theme } = useAppSelector((s) => s.screen);
  useEffect(() => {
    document.documentElement.dataset['bsTheme'] = theme;
  }, [theme]);
  const [wireSlot, setWireSlot] = useState<HTMLElement | null>(null);
  return (
    <div className={`frame ${drawerFolded ? 'drawer-folded' : ''}`}>
      <TopStrip />
      <Rail />
      <main className="work" id="work">
        <SavingOff />
        <Conflicts />
        <WireSlotContext value={wireSlot}>{children}</WireSlotContext>
      </main>
      <MonitorDrawer wireSlot={setWireSlot} />
      <Dock />
      <ShortcutList />
    </div>
  );
}
