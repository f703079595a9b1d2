import { isUsable } from '../../gear';
import { recall } from '../live/sending';
import { type Live } from '../live/live';
import { nth } from '../../sure';

/**
 * The track is armed first and the others let go after it, so that there is no moment without sound; only what is not
 * so already is sent.
 */
export function armOnly(live: Live, functionId: string): void {
  const chosen = live.world.functions.get(functionId);
  if (!chosen) {
    live.note({ code: 'function-gone', functionId });
    return;
  }
  const others = chosen.device.chart.flatMap((fn) => {
    const reached = fn.arms !== null && fn.id !== functionId ? live.world.functions.get(fn.id) : undefined;
    // One track may be armed by two messages: the other one is not let go again.
    return reached && fn.arms !== chosen.fn.arms && isUsable(reached.device, fn)
      ? [{ reached, value: 0 }]
      : [];
  });
  recall(live, [{ reached: chosen, value: 1 }, ...others], 'changes');
}

/** Arms the track after or before the one that is armed, in the order of the chart; with none armed the first or last. */
export function armStep(live: Live, deviceId: string, to: 'next' | 'previous'): void {
  const device = live.world.ways.get(deviceId)?.device;
  if (!device) {
    live.note({ code: 'device-gone' });
    return;
  }
  const tracks = device.chart.filter(
    (fn, i) =>
      fn.arms !== null && isUsable(device, fn) && device.chart.findIndex((f) => f.arms === fn.arms) === i,
  );
  if (tracks.length === 0) {
    live.note({ code: 'no-tracks' });
    return;
  }
  const armed = tracks.findIndex((fn) => live.value(fn.id) === 1);
  const next = to === 'next' ? armed + 1 : armed < 0 ? tracks.length - 1 : armed - 1 + tracks.length;
  armOnly(live, nth(tracks, next % tracks.length).id);
}

/** Switches one function of a circle on, then the others that are not off already off. */
export function switchOneOf(live: Live, boardId: string, functionId: string, circle: string): void {
  const chosen = live.world.functions.get(functionId);
  if (!chosen) {
    live.note({ code: 'function-gone', functionId });
    return;
  }
  const members = live.world.boardById.get(boardId)?.circles.get(circle) ?? [];
  const others = [...new Set(members)].flatMap((id) => {
    const reached = id === functionId ? undefined : live.world.functions.get(id);
    return reached ? [{ reached, value: 0 }] : [];
  });
  recall(live, [{ reached: chosen, value: 1 }, ...others], 'changes');
}
