import { isSameJson } from '@idle-step/core/edits';
import type { Show } from '@idle-step/core/engine';
import {
  FEET_MODEL,
  groundOf,
  idFrom,
  type Break,
  type FeetModel,
  type LayoutFound,
  type LayoutWish,
  type ProofFinding,
} from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';
import { useEffect, useMemo, useSyncExternalStore } from 'react';
import { fromBase64 } from '../files/base64';
import { useLiveHost, useLiveOf, useWorld } from '../live/use/useLive';
import { useInPlay } from '../live/use/useShow';
import { useRecordKeeper, useRecords } from '../records/useRecords';
import { useWorker } from '../ui/hooks/useWorker';
import { ProofSearch, type SearchState } from './ProofSearch';
import type { FindingsFound, FindingsWish } from './findings.worker';
import type { FeetFound, SearchWish } from './search.worker';

export type FullShow = Show & { readonly rig: FullRig };

/** The evening in play, whole. */
export function useEveningShow(rig: FullRig): FullShow {
  const { show } = useWorld();
  return useMemo(() => ({ ...show, rig }), [show, rig]);
}

const findingsWorker = (): Worker =>
  new Worker(new URL('./findings.worker.ts', import.meta.url), { type: 'module' });
const searchWorker = (): Worker =>
  new Worker(new URL('./search.worker.ts', import.meta.url), { type: 'module' });

const dayOfNow = (): string => {
  const now = new Date();
  const two = (n: number) => String(n).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
};

/** All that is held against the evening, found anew after each edit; `null` until it was for the first time. */
export function useFindings(rig: FullRig): readonly ProofFinding[] | null {
  const show = useEveningShow(rig);
  const { set } = useInPlay(rig.id);
  const { ports } = useLiveHost();
  const away = useLiveOf(() =>
    ports.status.kind === 'on'
      ? rig.devices
          .flatMap((d) => d.ports)
          .filter((p) => ports.stateOf(p.id) === 'absent')
          .map((p) => p.id)
          .join()
      : '',
  );
  const { records: boards } = useRecords(rig.id, 'board');
  const { records: checks } = useRecords(rig.id, 'line-check');
  const lastCheck = checks[0]?.at;
  const wish = useMemo<FindingsWish>(
    () => ({
      show,
      set,
      boards: boards.map(({ aboutId, what: { stored } }) => ({
        boardId: aboutId,
        stored: stored === null || stored === 'unknown' ? stored : fromBase64(stored.bytes),
      })),
      known: {
        lastCheckMs: lastCheck === undefined ? null : Date.parse(lastCheck),
        nowMs: Date.now(),
        today: dayOfNow(),
        portsAway: away === '' ? [] : away.split(','),
      },
    }),
    [show, set, boards, lastCheck, away],
  );
  return useWorker<FindingsWish, FindingsFound>(findingsWorker, wish)?.findings ?? null;
}

/** Findings that are meant to be so, by their ground, and setting them aside or taking them back. */
export function useSetAside(rigId: string) {
  const keeper = useRecordKeeper();
  const { records } = useRecords(rigId, 'set-aside');
  // One record for each, so that two windows that set aside at once do not undo each other.
  const byGround = useMemo(() => new Map(records.map((r) => [r.what.ground, r])), [records]);
  return {
    reasons: useMemo(() => new Map(records.map((r) => [r.what.ground, r.what.reason])), [records]),
    setAside: (finding: ProofFinding, reason: string) => {
      const ground = groundOf(finding);
      keeper.keep({
        id: idFrom(`${rigId} ${ground}`),
        rigId,
        aboutId: rigId,
        at: new Date().toISOString(),
        what: { kind: 'set-aside', ground, reason },
      });
    },
    /** @returns why it could not be taken back, or `null`. */
    takeBack: async (finding: ProofFinding): Promise<string | null> => {
      const record = byGround.get(groundOf(finding));
      return record ? keeper.forget(record) : null;
    },
  };
}

const feet = new ProofSearch<FeetFound>(searchWorker, (told) => (told.kind === 'feet' ? told.found : null));
const layout = new ProofSearch<LayoutFound>(
  searchWorker,
  (told) => (told.kind === 'layout' ? told.found : null),
  false,
);
const breaks = new ProofSearch<readonly Break[]>(searchWorker, (told) =>
  told.kind === 'breaks' ? told.found : null,
);

/** The same evening, part by part: the parts are new ones after each edit, the evening around them at each look. */
const isSameShow = (a: FullShow, b: FullShow): boolean =>
  a.rig === b.rig &&
  a.presets === b.presets &&
  a.songs === b.songs &&
  a.entryIds === b.entryIds &&
  a.leftOut === b.leftOut &&
  a.pauses === b.pauses;

const isSameWish = (a: SearchWish, b: SearchWish): boolean =>
  a.kind === b.kind &&
  isSameShow(a.show, b.show) &&
  (a.kind === 'breaks' || b.kind === 'breaks' || isSameJson(a.model, b.model)) &&
  (a.kind !== 'layout' || b.kind !== 'layout' || isSameJson(a.wish, b.wish));

/** @param wish `null` where nothing is to be looked for. */
function useSearch<T>(search: ProofSearch<T>, wish: SearchWish | null): SearchState<T> {
  useEffect(() => {
    if (wish) search.ask(wish, isSameWish);
  }, [search, wish]);
  return useSyncExternalStore(search.subscribe, search.getSnapshot);
}

/** What feet can bring about, and the plan that plays the set with the fewest presses. */
export function useFeet(show: FullShow | null, model: FeetModel = FEET_MODEL) {
  const wish = useMemo<SearchWish | null>(() => show && { kind: 'feet', show, model }, [show, model]);
  return { state: useSearch(feet, wish), cancel: feet.cancel, again: feet.again };
}

/** The evening with each thing of the rig taken away in turn. */
export function useBreaks(show: FullShow) {
  const wish = useMemo<SearchWish>(() => ({ kind: 'breaks', show }), [show]);
  return { state: useSearch(breaks, wish), cancel: breaks.cancel, again: breaks.again };
}

/** What on which switch makes the evening easiest for the feet. @param wish `null` until it is asked for. */
export function useLayout(show: FullShow, model: FeetModel, wish: LayoutWish | null) {
  const asked = useMemo<SearchWish | null>(
    () => wish && { kind: 'layout', show, model, wish },
    [show, model, wish],
  );
  return { state: useSearch(layout, asked), cancel: layout.cancel, again: layout.again };
}

/** What a search has found, this time or the last. */
export const foundIn = <T>(state: SearchState<T>): T | null =>
  state.kind === 'found' ? state.found : state.kind === 'idle' ? null : state.last;
