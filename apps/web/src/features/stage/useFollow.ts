import { useEffect, useState } from 'react';
import { useIsAside, useLiveHost, useLiveOf } from '../../live/use/useLive';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../store';

/** Whether this stage shows what another window plays, and whether it is to. It is, until somebody says otherwise. */
export type Following = { readonly isWanted: boolean; readonly isOn: boolean; want(on: boolean): void };

/** Has the stage of a window that does not play follow the one that does. */
export function useFollow(): Following {
  const host = useLiveHost();
  const dispatch = useAppDispatch();
  const isAside = useIsAside();
  const [isWanted, setWanted] = useState(true);
  const isOn = useLiveOf((live) => live.isFollowing);
  const rigId = useLiveOf((live) => (live.isFollowing ? live.world.show.rig.id : null));
  const setId = useLiveOf((live) => (live.isFollowing ? (live.world.show.setId ?? null) : null));
  const own = useAppSelector((s) => s.screen.setId);
  const follows = isAside && isWanted;
  useEffect(() => (follows ? host.otherWindow?.follow() : undefined), [host, follows]);
  // What is followed stays in play when this window is told to play.
  useEffect(() => {
    if (rigId !== null && setId !== own) dispatch(screenChanged({ rigId, setId }));
  }, [dispatch, rigId, setId, own]);
  return { isWanted, isOn, want: setWanted };
}
