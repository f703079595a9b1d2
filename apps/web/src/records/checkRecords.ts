import { checkSentence, type LineCheck } from '@idle-step/core/check';
import type { LiveHost } from '../live/LiveHost';
import type { RecordKeeper } from './recordKeeper';

/** Keeps how each line check ended. One that goes on where the last one of this page ended is kept in its place. */
export function keepChecks(host: LiveHost, keeper: RecordKeeper): void {
  let kept: { readonly id: string; readonly things: LineCheck['things'] } | null = null;
  host.lineCheck.onDone = (check) => {
    const { rig, setId } = host.now().world.show;
    const isSame =
      kept !== null &&
      kept.things.length === check.things.length &&
      kept.things[0]?.id === check.things[0]?.id;
    const id = isSame && kept ? kept.id : crypto.randomUUID();
    kept = { id, things: check.things };
    const results = check.things.flatMap((thing) => {
      const result = check.results[thing.id];
      if (!result) return [];
      return {
        boardId: thing.kind === 'device' ? null : thing.boardId,
        thingId: thing.id,
        name: thing.kind === 'device' ? thing.name : `${thing.boardName} ${thing.name}`.slice(0, 80),
        found: result.found,
        sentence: checkSentence(thing, result, rig.middleC),
        presses: result.presses,
      };
    });
    keeper.keep({
      id,
      rigId: rig.id,
      aboutId: rig.id,
      at: new Date().toISOString(),
      what: { kind: 'line-check', setId: setId ?? null, results },
    });
  };
}
