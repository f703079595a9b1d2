import {
  ACTION_LISTS,
  pagesOf,
  type Action,
  type Assignment,
  type Bank,
  type BankTarget,
  type Board,
  type LampRule,
  type Preset,
  type RigWithBoards,
  type Sweep,
} from '../floor';
import { functionChannel, isUsable, loadsProgram, type ChartFunction, type Device } from '../gear';
import { got } from '../sure';
import { boardProgram, type ProgramItem } from './boardProgram';
import { namedActions, OWN_OUT, type BoardMemory } from './boardMemory';

/** A rig as far as the memory of a board is made of it. */
export type RigForMemory = RigWithBoards & { readonly stepGuardMs?: number };

/**
 * The memory that has a board do by itself what a preset says, and what it cannot do and is left out.
 * The rows of charts in it are those that it moves, in the order of their charts.
 */
export function memoryOf(
  rig: RigForMemory,
  board: Board,
  preset: Preset,
): { readonly memory: BoardMemory; readonly leftOut: readonly ProgramItem[] } {
  const program = boardProgram(rig, board, preset);
  const leftOut = program.filter((item) => !item.deed.ok);
  const notDone = new Set(
    leftOut.map(({ pageId, controlId, list, id }) => `${pageId}/${controlId}/${list}/${id}`),
  );
  const banks = preset.banks.slice(0, board.can.banks ?? undefined);
  const places = new Places(rig, board, preset, banks);
  const ofBank = (page: Bank): Bank => ({
    ...page,
    id: places.page(page.id),
    assignments: page.assignments
      .filter((a) => places.hasControl(a.controlId))
      .map((a) => places.assignment(page.id, a, notDone)),
  });
  const kept = {
    banks: banks.map(ofBank),
    groups: preset.groups.map((g, i) => ({
      ...g,
      id: `g${i}`,
      controlIds: g.controlIds.filter((id) => places.hasControl(id)).map((id) => places.control(id)),
      pages: g.pages.map(ofBank),
    })),
    feel: preset.feel.map((f) => ({ ...f, lamp: places.lamp(f.lamp) })),
  };
  const memory = {
    name: preset.name,
    controls: board.controls.map((c) => c.name),
    stepGuardMs: rig.stepGuardMs ?? 0,
    devices: places.gear(),
    ...places.inOrder(kept),
  };
  return { memory, leftOut };
}

/** Gives everything its place, and remembers what of the gear is needed. */
class Places {
  private readonly controls: ReadonlyMap<string, string>;
  private readonly pages: ReadonlyMap<string, string>;
  private readonly groups: ReadonlyMap<string, string>;
  private readonly rows = new Map<string, { readonly device: Device; readonly fn: ChartFunction }>();
  private readonly devices = new Set<string>();

  constructor(
    private readonly rig: RigForMemory,
    board: Board,
    preset: Preset,
    banks: readonly Bank[],
  ) {
    this.controls = new Map(board.controls.map((c, i) => [c.id, `c${i}`]));
    this.groups = new Map(preset.groups.map((g, i) => [g.id, `g${i}`]));
    this.pages = new Map(pagesOf({ banks, groups: preset.groups }).map((p, i) => [p.id, `p${i}`]));
    for (const d of rig.devices) for (const fn of d.chart) this.rows.set(fn.id, { device: d, fn });
  }
  private readonly needed = new Set<string>();

  hasControl = (id: string): boolean => this.controls.has(id);
  control = (id: string): string => got(this.controls, id);
  page = (id: string): string => got(this.pages, id);

  assignment(pageId: string, a: Assignment, notDone: ReadonlySet<string>): Assignment {
    const isDone = (list: string, id: string) => !notDone.has(`${pageId}/${a.controlId}/${list}/${id}`);
    const lists = ACTION_LISTS.map((name) => [
      name,
      a[name].filter((x) => !x.isOff && isDone(name, x.id)).map((x) => this.action(x)),
    ]);
    return namedActions(
      {
        ...a,
        controlId: this.control(a.controlId),
        ...Object.fromEntries(lists),
        sweeps: a.sweeps.filter((s) => isDone('sweeps', s.id)).map((s) => this.sweep(s)),
        lamp: this.lamp(a.lamp),
      },
      this.page(pageId),
    );
  }

  /** A lamp that follows a row that cannot be moved follows what its control does. */
  lamp(rule: LampRule | null): LampRule | null {
    if (rule?.kind !== 'function') return rule;
    const found = this.rows.get(rule.functionId);
    return found && isUsable(found.device, found.fn)
      ? { ...rule, functionId: this.row(rule.functionId) }
      : { kind: 'work' };
  }

  /** Only rows that are needed are kept, and they are counted when all are known: until then they keep their own names. */
  private row(id: string): string {
    this.needed.add(id);
    this.devices.add(got(this.rows, id).device.id);
    return id;
  }

  private device(id: string): string {
    this.devices.add(id);
    return id;
  }

  private action({ isOff: _off, ...action }: Action): Action {
    switch (action.kind) {
      case 'set':
      case 'toggle':
      case 'momentary':
      case 'step':
        return { ...action, functionId: this.row(action.functionId) };
      case 'message':
        return { ...action, deviceId: this.device(action.deviceId) };
      case 'raw':
      case 'clock':
        return { ...action, portId: OWN_OUT };
      case 'bank':
        return { ...action, to: this.target(action.to) };
      case 'page':
        return { ...action, groupId: got(this.groups, action.groupId), to: this.target(action.to) };
      default:
        return action;
    }
  }

  private target = (to: BankTarget): BankTarget =>
    to.kind === 'bank' ? { ...to, bankId: this.page(to.bankId) } : to;

  private sweep(sweep: Sweep): Sweep {
    return sweep.functionId === null
      ? { ...sweep, deviceId: this.device(sweep.deviceId) }
      : { ...sweep, functionId: this.row(sweep.functionId) };
  }

  private usedDevices = (): Device[] => this.rig.devices.filter((d) => this.devices.has(d.id));
  /**
   * Those that it moves, and those that change what is known of them, whoever sends that: what loads a program, and what
   * arms the same tracks.
   */
  private usedRows(d: Device): ChartFunction[] {
    const tracks = new Set(d.chart.flatMap((fn) => (this.needed.has(fn.id) ? (fn.arms ?? []) : [])));
    return d.chart.filter(
      (fn) =>
        this.needed.has(fn.id) ||
        (isUsable(d, fn) && (loadsProgram(fn) || (fn.arms !== null && tracks.has(fn.arms)))),
    );
  }

  gear(): BoardMemory['devices'] {
    return this.usedDevices().map((d) => ({
      name: d.name,
      channel: d.channel,
      listens: d.listens,
      bankSelect: d.bankSelect,
      chart: this.usedRows(d).map((fn) => {
        const { name, drive, shape, arms, powerOn, settleMs } = fn;
        const channel = functionChannel(d, fn);
        return {
          name,
          drive,
          shape: withoutNames(shape),
          channel: channel === d.channel && fn.channel === null ? null : channel,
          arms,
          powerOn,
          settleMs,
        };
      }),
    }));
  }

  /** The same with devices and rows called by their places. */
  inOrder<T>(kept: T): T {
    const devices = this.usedDevices();
    const places = new Map<string, string>([
      ...devices.map((d, i) => [d.id, `d${i}`] as const),
      ...devices.flatMap((d) => this.usedRows(d)).map((fn, i) => [fn.id, `r${i}`] as const),
    ]);
    // Text of the same shape: names of devices and rows are the only strings that change.
    return JSON.parse(
      JSON.stringify(kept, (key, value: unknown) =>
        (key === 'functionId' || key === 'deviceId') && typeof value === 'string'
          ? (places.get(value) ?? value)
          : value,
      ),
    ) as T;
  }
}

/** Without what is for people only. */
function withoutNames(shape: ChartFunction['shape']): ChartFunction['shape'] {
  if (shape.kind === 'program' || shape.kind === 'sound') return { ...shape, names: [] };
  if (shape.kind !== 'range') return shape;
  const { ends: _ends, ...plain } = shape;
  return plain;
}
