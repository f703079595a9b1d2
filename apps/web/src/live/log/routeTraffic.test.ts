import type { Effect } from '@idle-step/core/engine';
import { controller, noteOn, type Message } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { RouteTraffic } from './routeTraffic';

type Routed = Extract<Effect, { kind: 'routed' }>;
const routed = (
  routeId: string,
  message: Message,
  outcome: Routed['outcome'],
  sent: Routed['sent'],
): Routed => ({
  kind: 'routed',
  routeId,
  portId: 'keys',
  message,
  outcome,
  sent,
});
const send = (message: Message, routeId: string | null): Effect => ({
  kind: 'send',
  portId: 'out',
  message,
  functionId: null,
  routeId,
  dueMs: 0,
  atMs: 0,
});

describe('what passes routes', () => {
  const note = noteOn(0, 60, 90);
  const there = { portId: 'out', message: note };

  it('is counted by route: what came, what went on, what was held back, and when something passed last', () => {
    const traffic = new RouteTraffic();
    traffic.take([routed('a', note, 'passed', [there, there]), routed('b', note, 'kind-stopped', [])], 10);
    traffic.take([routed('a', note, 'kind-stopped', [])], 20);
    expect([...traffic.all]).toEqual([
      ['a', { came: 2, went: 2, heldBack: 1, lastMs: 10 }],
      ['b', { came: 1, went: 0, heldBack: 1, lastMs: null }],
    ]);
  });

  it('is kept in pairs with what routes sent on, and not with what a press sent', () => {
    const traffic = new RouteTraffic();
    traffic.take(
      [routed('a', note, 'passed', [there]), send(note, 'a'), send(controller(0, 7, 1), null)],
      10,
    );
    expect(traffic.last).toEqual([
      {
        seq: 1,
        portId: 'keys',
        message: note,
        passages: [{ routeId: 'a', outcome: 'passed' }],
        sent: [{ portId: 'out', message: note }],
      },
    ]);
  });

  it('stays the same list and map until something passes again; the oldest of more than 200 go', () => {
    const traffic = new RouteTraffic();
    traffic.take([routed('a', note, 'passed', [there])], 10);
    const { all, last } = traffic;
    traffic.take([send(note, null)], 20);
    expect([traffic.all, traffic.last]).toEqual([all, last]);
    expect(traffic.all).toBe(all);
    expect(traffic.last).toBe(last);
    for (let i = 0; i < 700; i++) traffic.take([routed('a', note, 'passed', [there])], 30 + i);
    expect(traffic.last).toHaveLength(200);
    expect([traffic.last[0]?.seq, traffic.last.at(-1)?.seq]).toEqual([502, 701]);
    expect(traffic.all.get('a')?.came).toBe(701);
  });
});
