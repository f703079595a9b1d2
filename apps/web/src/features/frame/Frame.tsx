import { useEffect, useRef, useState, type ComponentType, type ReactNode, type Ref } from 'react';
import { useAppSelector } from '../../store';
import { Conflicts } from '../../documents/Conflicts';
import { Dock } from './Dock';
import { Rail } from './Rail';
import { SavingOff } from '../../documents/SavingOff';
import { StorageOff } from '../../documents/StorageOff';
import { ShortcutList } from './ShortcutList';
import { TopStrip } from './TopStrip';
import { usePlaceScroll } from './usePlaceScroll';
import { NoticeLine } from '../../ui/useUndoNotice';
import { WireSlotContext } from '../../boards/wireSlot';

type Props = {
  /** What stands beside every place; it leaves room for the wires of a control. */
  Monitor: ComponentType<{ wireSlot: Ref<HTMLDivElement> }>;
  children: ReactNode;
};

/** The frame around every place but the stage. */
export function Frame({ Monitor, children }: Props) {
  const { drawerFolded, theme } = useAppSelector((s) => s.screen);
  useEffect(() => {
    document.documentElement.dataset['bsTheme'] = theme;
  }, [theme]);
  const work = useRef<HTMLElement>(null);
  usePlaceScroll(work);
  const [wireSlot, setWireSlot] = useState<HTMLElement | null>(null);
  return (
    <div className={`frame ${drawerFolded ? 'drawer-folded' : ''}`}>
      <TopStrip />
      <Rail />
      <main className="work" id="work" ref={work}>
        <SavingOff />
        <StorageOff />
        <Conflicts />
        <WireSlotContext value={wireSlot}>{children}</WireSlotContext>
      </main>
      <NoticeLine />
      <Monitor wireSlot={setWireSlot} />
      <Dock />
      <ShortcutList />
    </div>
  );
}
