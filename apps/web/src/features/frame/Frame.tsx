import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ComponentType,
  type ReactNode,
  type Ref,
} from 'react';
import { useAppSelector } from '../../store';
import { Conflicts } from '../../documents/Conflicts';
import { Dock } from './Dock';
import { Rail } from './Rail';
import { SavingOff } from '../../documents/SavingOff';
import { StorageOff } from '../../documents/StorageOff';
import { ShortcutList } from './ShortcutList';
import { TopStrip } from './TopStrip';
import { usePlaceScroll } from './usePlaceScroll';
import { NoticeLine } from '../../ui/hooks/useUndoNotice';
import { WireRoomContext } from '../../boards/wireSlot';
import { isTiming, type LogLine } from '../../live/log/logLine';
import { useMediaQuery } from '../../ui/hooks/useMediaQuery';
import { useFold } from './useFold';
import type { Folding } from '../../ui/ByItself';

type Props = {
  /** What stands beside every place; it leaves room for the wires of a control. */
  Monitor: ComponentType<{ wireSlot: Ref<HTMLDivElement>; folding: Folding }>;
  children: ReactNode;
};

/** The frame around every place but the stage. */
export function Frame({ Monitor, children }: Props) {
  const theme = useAppSelector((s) => s.screen.theme);
  useEffect(() => {
    document.documentElement.dataset['bsTheme'] = theme;
  }, [theme]);
  const work = useRef<HTMLElement>(null);
  usePlaceScroll(work);
  const { wires, room, setSlot } = useWireRoom();
  // A narrow window needs its width for the work.
  const isNarrow = useMediaQuery('(max-width: 1199px)');
  const folding = useFold('monitor', isNarrow ? null : isNoTiming, wires > 0 && !isNarrow);
  return (
    <div className={`frame ${folding.isFolded ? 'drawer-folded' : ''}`}>
      <TopStrip />
      <Rail />
      <main className="work" id="work" ref={work}>
        <SavingOff />
        <StorageOff />
        <Conflicts />
        <WireRoomContext value={room}>{children}</WireRoomContext>
      </main>
      <NoticeLine />
      <Monitor wireSlot={setSlot} folding={folding} />
      <Dock />
      <ShortcutList />
    </div>
  );
}

const isNoTiming = (line: LogLine): boolean => !isTiming(line);

/** The room above the monitor, and how many ask for it. */
function useWireRoom() {
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  const [wires, setWires] = useState(0);
  const ask = useCallback(() => {
    setWires((n) => n + 1);
    return () => setWires((n) => n - 1);
  }, []);
  const room = useMemo(() => ({ slot, ask }), [slot, ask]);
  return { wires, room, setSlot };
}
