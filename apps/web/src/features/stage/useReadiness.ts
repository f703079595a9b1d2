import { useEffect, useState } from 'react';
import { isAppKept } from '../../evening/keptApp';
import { useEveningStatus } from '../../evening/useEvening';
import { useLiveHost, useLiveOf } from '../../live/use/useLive';

/** One thing that has to be right before a set begins. */
export type Check = { readonly words: string; readonly isMissing: boolean };

/** Whether an evening would outlive the server, the page and the browser, and whether the gear would hear it. */
export function useReadiness(): readonly Check[] {
  const host = useLiveHost();
  const { isShowKept, trouble } = useEveningStatus();
  const isHandsOff = useLiveOf((live) => live.state.here['hands-off']);
  const isClicking = useLiveOf((live) => live.state.here.click);
  const status = useLiveOf((live) => live.portsStatus);
  useLiveOf((live) => live.ports);
  const opensAlone = useAppKept();
  const { missing, bound } = host.ports.boundPorts();
  const ports: Check =
    status.kind !== 'on' || bound === 0
      ? { words: 'only stand-ins hear it', isMissing: false }
      : missing.length > 0
        ? { words: `Not plugged in: ${missing.join(', ')}.`, isMissing: true }
        : { words: bound === 1 ? 'its port is there' : `all ${bound} ports are there`, isMissing: false };
  return [
    trouble !== null
      ? { words: trouble, isMissing: true }
      : isShowKept
        ? { words: 'the set lies in this browser', isMissing: false }
        : { words: 'The set is not kept in this browser yet.', isMissing: true },
    opensAlone === null
      ? { words: 'Looking whether this page opens without the server.', isMissing: true }
      : opensAlone
        ? { words: 'it opens without the server', isMissing: false }
        : { words: 'Without the server this page would not open again yet.', isMissing: true },
    ports,
    ...(isClicking && !navigator.userActivation.hasBeenActive
      ? [
          {
            words: 'No click yet: press a key or the mouse once, the browser waits for that.',
            isMissing: true,
          },
        ]
      : []),
    ...(isHandsOff ? [{ words: 'Hands off: nothing reaches real ports.', isMissing: true }] : []),
  ];
}

/** Looked at every few seconds until it is so; `null` until it was looked at. */
function useAppKept(): boolean | null {
  const [isKept, setKept] = useState<boolean | null>(null);
  useEffect(() => {
    const look = () => void isAppKept().then(setKept, () => setKept(false));
    // A page that has only just been opened is still being kept.
    const first = window.setTimeout(look, 1500);
    const timer = window.setInterval(look, 4000);
    return () => {
      window.clearTimeout(first);
      window.clearInterval(timer);
    };
  }, []);
  return isKept;
}
