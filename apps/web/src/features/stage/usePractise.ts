import { answerPractise, beginPractise, type Practise, type PractiseAnswer } from '@idle-step/core/proof';
import type { World } from '@idle-step/core/engine';
import { useEffect, useRef, useState } from 'react';
import { useLiveHost } from '../../live/use/useLive';

export type Practising = {
  /** `null` while nobody practises. */
  readonly now: Practise | null;
  readonly last: { readonly answer: PractiseAnswer; readonly controlId: string } | null;
  start(): void;
  stop(): void;
};

/** Practises which switch leads where: meanwhile what is pressed only answers, and nothing is sent. */
export function usePractise(world: World): Practising {
  const host = useLiveHost();
  const [now, setNow] = useState<Practise | null>(null);
  const [last, setLast] = useState<Practising['last']>(null);
  const current = useRef<Practise | null>(null);
  const isOn = now !== null;
  const show = (practise: Practise | null) => {
    current.current = practise;
    setNow(practise);
  };
  useEffect(() => {
    if (!isOn) return;
    host.practiseWith((controlId) => {
      if (!current.current) return;
      const done = answerPractise(world, current.current, controlId, host.clock());
      current.current = done.practise;
      setNow(done.practise);
      setLast({ answer: done.answer, controlId });
    });
    return () => host.practiseWith(null);
  }, [host, world, isOn]);
  return {
    now,
    last,
    start: () => {
      setLast(null);
      show(beginPractise(world, host.clock()));
    },
    stop: () => show(null),
  };
}
