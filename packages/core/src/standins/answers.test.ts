import { describe, expect, it } from 'vitest';
import { controller, program, sysex } from '../midi';
import { keysOf } from '../sure';
import { identityRequest, readIdentityReply } from '../transfer';
import { hearStandIn, STAND_INS, standInRequest, startStandIn, type StandInState } from './index';

const kinds = keysOf(STAND_INS);
const data = (m: { kind: string } | undefined): readonly number[] =>
  m && 'data' in m ? Array.from((m as { data: Uint8Array }).data) : [];
const told = (standIn: StandInState, channel: number): StandInState =>
  [
    program(channel, 9),
    controller(channel, 7, 33),
    controller(channel, 22, 3),
    controller(channel, 80, 127),
  ].reduce((s, m, i) => hearStandIn(s, m, channel, i * 1000).standIn, standIn);

describe.each(kinds)('the stand-in %s', (kind) => {
  it('says who it is, as the standard asks, to all and to its own number', () => {
    for (const device of [0x7f, 4]) {
      const { replies, standIn } = hearStandIn(startStandIn(kind), sysex(identityRequest(device)), 4, 0);
      expect(standIn).toEqual(startStandIn(kind));
      expect(readIdentityReply(data(replies[0]))).toMatchObject({
        device: 4,
        manufacturer: [0x7d],
        member: kinds.indexOf(kind) + 1,
      });
    }
    expect(hearStandIn(startStandIn(kind), sysex(identityRequest(5)), 4, 0).replies).toEqual([]);
  });

  it('gives a dump of what it is set to, and is set to it when that is sent back', () => {
    const set = told(startStandIn(kind), 4);
    const [dump] = hearStandIn(set, sysex(standInRequest(4)), 4, 9000).replies;
    expect(data(dump).every((b) => b < 0x80)).toBe(true);
    const back = hearStandIn(startStandIn(kind), dump!, 4, 9000);
    expect(back.standIn).toEqual(set);
    expect(back.replies).toEqual([]);
    // On another channel it is somebody else's.
    expect(hearStandIn(startStandIn(kind), dump!, 5, 9000).standIn).toEqual(startStandIn(kind));
  });

  it('leaves a dump that was damaged alone', () => {
    const [dump] = hearStandIn(told(startStandIn(kind), 4), sysex(standInRequest(4)), 4, 9000).replies;
    const cut = sysex(data(dump).slice(0, -3));
    expect(hearStandIn(startStandIn(kind), cut, 4, 0).standIn).toEqual(startStandIn(kind));
  });
});
