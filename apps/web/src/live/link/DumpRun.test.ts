import { compileWorld } from '@idle-step/core/engine';
import { encode, hex, type Message } from '@idle-step/core/midi';
import { there } from '@idle-step/core/sure';
import { demoPresets, demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { DumpRun } from './DumpRun';
import { HandClock } from './handClock.test-support';

const idOf = (name: string) => there(demoRig.devices.find((d) => d.name === name)).id;
const [crossbar, kelpline, tiller] = ['Crossbar', 'Kelpline', 'Tiller 25'].map(idOf) as [
  string,
  string,
  string,
];
const withRequests = {
  ...demoRig,
  devices: demoRig.devices.map((d) =>
    d.id === crossbar || d.id === kelpline ? { ...d, dumpRequest: 'F0 7D 01 F7' } : d,
  ),
};

/** Transfers on a clock that is moved by hand. */
class Bench extends HandClock {
  refusal: string | null = null;
  isReached = true;
  world = compileWorld({ rig: withRequests, presets: demoPresets, setName: '', songs: [] });
  readonly sent: string[] = [];
  readonly told: (string | null)[] = [];
  readonly run = new DumpRun(
    {
      world: () => this.world,
      send: (_portId: string, message: Message) => void this.sent.push(hex(encode(message))),
      reaches: () => this.isReached,
      refusal: () => this.refusal,
    },
    this.timerOf,
    () => this.nowMs,
  );

  constructor() {
    super();
    this.run.onEnd = ({ job }) => this.told.push(job.end);
  }

  get back(): string {
    return there(this.world.backs.get(crossbar));
  }
}

describe('a transfer with a device', () => {
  it('is asked for by its bytes, heard from its port alone, and over once it is silent', () => {
    const b = new Bench();
    expect(b.run.ask([crossbar])).toBeNull();
    expect(b.sent).toEqual(['F0 7D 01 F7']);
    b.run.heard('another', [0x7d, 5]);
    b.run.heard(b.back, [0x7d, 2, 3]);
    b.go(5000);
    const now = there(b.run.getSnapshot());
    expect([now.job.end, now.ended.map((e) => e.end), b.told]).toEqual(['done', ['done'], ['done']]);
    expect(now.job.came.map((m) => Array.from(m))).toEqual([[0x7d, 2, 3]]);
  });

  it.each([
    ['while playing goes before', crossbar, 'A set runs.', 'A set runs.'],
    ['of a device that is not played', 'gone', null, 'This device is not in the rig that is played.'],
    [
      'of a device that nothing comes back from',
      kelpline,
      null,
      'No cable leads from Kelpline to the computer, so nothing of it can be heard: draw it in Rig.',
    ],
  ])('%s is refused, and nothing is sent', (_what, id, refusal, said) => {
    const b = new Bench();
    b.refusal = refusal;
    expect([b.run.identify(id), b.sent, b.run.getSnapshot()]).toEqual([said, [], null]);
  });

  it('to a device that no cable leads to is refused', () =>
    expect(new Bench().run.send(tiller, [0xf0, 0x7d, 0xf7], 0)).toBe(
      'No cable leads from the computer to Tiller 25: draw it in Rig.',
    ));

  it('is one at a time', () => {
    const b = new Bench();
    b.run.listen(crossbar);
    const busy = 'A transfer is on its way; wait for it or cancel it.';
    expect([b.run.ask([crossbar]), b.run.identify(crossbar), b.run.listen(crossbar)]).toEqual([
      busy,
      busy,
      busy,
    ]);
    b.run.setAside();
    expect(b.run.getSnapshot()).not.toBeNull();
    b.run.cancel();
    expect(b.told).toEqual(['cancelled']);
    b.run.setAside();
    expect([b.run.getSnapshot(), b.run.ask([crossbar])]).toEqual([null, null]);
  });

  it('that is asked of none says what is missing', () =>
    expect(new Bench().run.ask([])).toBe(
      'No device here has a dump request yet: write one down in its room Dumps.',
    ));

  it('of several goes on behind one that cannot be asked, and says how each ended', () => {
    const b = new Bench();
    expect(b.run.ask([kelpline, crossbar])).toBeNull();
    b.run.heard(b.back, [0x7d, 9]);
    b.go(5000);
    expect(there(b.run.getSnapshot()).ended.map((e) => [e.deviceId, e.end, e.refusal === null])).toEqual([
      [kelpline, 'no-answer', false],
      [crossbar, 'done', true],
    ]);
  });

  it('ends with its port, and not with another', () => {
    const b = new Bench();
    b.run.ask([crossbar]);
    b.run.portLost('another');
    expect(b.told).toEqual([]);
    b.run.portLost(b.back);
    expect([b.told, b.dueMs]).toEqual([['port-gone'], null]);
  });

  it('that nothing takes ends at once', () => {
    const b = new Bench();
    b.isReached = false;
    b.run.send(kelpline, [0xf0, 0x7d, 1, 0xf7], 0);
    expect([b.sent, b.told]).toEqual([[], ['port-gone']]);
  });
});
