import { reachedBanks, type WorldBoard } from '../../engine';
import {
  actionsOf,
  pagesOf,
  turnedRound,
  type Action,
  type ActionListName,
  type Assignment,
  type Control,
  type Preset,
} from '../../floor';
import { loadsProgram, type ChartFunction } from '../../gear';
import { parseBytes } from '../../midi';
import type { Mend } from '../../edits';
import { leadsOn } from '../feet/leading';
import { presetSends, type SentMark } from '../presetSends';
import { found, mendTo, type ProofCode, type ProofFinding, type Subject } from './finding';
import { idFrom, nearestTaken } from './nearest';

/** What is wrong with what boards do, by the presets that are in force. */
export function boardFindings(subject: Subject): ProofFinding[] {
  return subject.world.boards.flatMap((worldBoard) => {
    const { preset } = worldBoard;
    if (!preset) return [];
    return [
      ...sendMarks(subject, preset),
      ...pagesOf(preset).flatMap((page) =>
        page.assignments.flatMap((a) => assignmentFindings(subject, worldBoard, preset, page.id, a)),
      ),
      ...stuckBanks(subject, worldBoard),
      ...notStored(subject, worldBoard),
    ];
  });
}

/** What is odd about single messages, with what would put it right. */
function sendMarks({ show, world }: Subject, preset: Preset): ProofFinding[] {
  const scenesAtMost =
    world.songs.length === 0 ? null : Math.max(...world.songs.map((s) => s.song.scenes.length));
  const told = new Set<string>();
  return presetSends(show.rig, preset, scenesAtMost).flatMap((row) =>
    row.marks.flatMap((mark): ProofFinding[] => {
      const key = JSON.stringify([mark.place, mark.code, mark.sentence]);
      if (told.has(key)) return [];
      told.add(key);
      const where = `${row.pageName}, ${row.controlName}: `;
      return [{ ...mark, sentence: where + mark.sentence, mends: mendsOf(world, preset, mark, row.list) }];
    }),
  );
}

function mendsOf(
  world: Subject['world'],
  preset: Preset,
  { code, place }: SentMark,
  list: ActionListName | 'sweeps',
): Mend[] {
  const at = place.control;
  const page = pagesOf(preset).find((p) => p.id === at?.pageId);
  const was = page?.assignments.find((a) => a.controlId === at?.controlId);
  if (!at || !was) return [];
  const change = (text: string, next: Assignment): Mend[] =>
    onlyThere([mendTo(text, 'preset', preset, withAssignment(preset, at.pageId, next))]);
  const functionOf = (action: Action): ChartFunction | undefined =>
    'functionId' in action ? world.functions.get(action.functionId)?.fn : undefined;
  const takeOut = (isOut: (action: Action) => boolean): Mend[] =>
    change(
      'Take it out',
      list === 'sweeps'
        ? { ...was, sweeps: was.sweeps.filter((s) => world.functions.has(s.functionId ?? s.id)) }
        : { ...was, [list]: was[list].filter((a) => !isOut(a)) },
    );
  switch (code) {
    case 'lamp-turned-round': {
      const rule = was.lamp;
      if (rule?.kind !== 'function') return [];
      return change('Turn its lamp round', { ...was, lamp: { ...rule, stops: turnedRound(rule.stops) } });
    }
    case 'off-by-one': {
      if (list === 'sweeps') return [];
      const nearer = was[list].map((a) => {
        const fn = functionOf(a);
        return a.kind === 'set' && fn ? { ...a, value: nearestTaken(fn.shape, a.value) } : a;
      });
      const mends = change('Take the value beside it', { ...was, [list]: nearer });
      if (mends.length > 0 || was.label === '') return mends;
      return change('Take the label that is proposed', { ...was, label: '' });
    }
    case 'gone':
      return takeOut((a) => 'functionId' in a && !functionOf(a));
    case 'reserved':
      return takeOut((a) => functionOf(a)?.reserved === true);
    case 'beyond-board':
      return list === 'sweeps' ? [] : change('Take the actions of this gesture out', { ...was, [list]: [] });
    case 'double':
      return [];
  }
}

const onlyThere = (mends: readonly (Mend | null)[]): Mend[] => mends.flatMap((m) => m ?? []);

const withAssignment = (preset: Preset, pageId: string, next: Assignment): Preset => {
  const inPage = <P extends Preset['banks'][number]>(page: P): P =>
    page.id === pageId
      ? { ...page, assignments: page.assignments.map((a) => (a.controlId === next.controlId ? next : a)) }
      : page;
  return {
    ...preset,
    banks: preset.banks.map(inPage),
    groups: preset.groups.map((g) => ({ ...g, pages: g.pages.map(inPage) })),
  };
};

function assignmentFindings(
  subject: Subject,
  { board, device }: WorldBoard,
  preset: Preset,
  pageId: string,
  assignment: Assignment,
): ProofFinding[] {
  const control = board.controls.find((c) => c.id === assignment.controlId);
  if (!control) return [];
  const name = `${device.name} ${control.name}`;
  const change: Change = (text, part) =>
    mendTo(text, 'preset', preset, withAssignment(preset, pageId, { ...assignment, ...part }));
  const tell: Tell = (code, sentence, ...mends) =>
    found(code, { control: { pageId, controlId: control.id } }, `${name} ${sentence}`, mends);
  const released = assignment.release.filter((a) => a.kind !== 'toggle');
  return [
    ...togglesTwice(subject, assignment).map((what) =>
      tell(
        'toggles-twice',
        `toggles ${what} when it is pressed and again when it is let go.`,
        change('Take it out of letting go', { release: released }),
      ),
    ),
    ...latchingGestures(control, assignment).map((word) =>
      tell(
        'latching-gesture',
        `is a latching switch, and has something on ${word}.`,
        change('Take it out', { hold: [], doublePress: [] }),
      ),
    ),
    ...(hung(assignment).length === 0
      ? []
      : [
          tell(
            'note-hangs',
            'sends a note as typed bytes, and nothing ends it.',
            change('End it when the switch goes up', withNoteEnds(assignment)),
          ),
        ]),
    ...(board.mode === 'standalone' ? byItself(subject, assignment, tell, change) : []),
  ];
}

type Change = (text: string, part: Partial<Assignment>) => Mend | null;
type Tell = (code: ProofCode, sentence: string, ...mends: readonly (Mend | null)[]) => ProofFinding;

/** What is wrong where a board works by itself: nothing tells it where the gear stands, or makes it wait. */
const byItself = (subject: Subject, assignment: Assignment, tell: Tell, change: Change): ProofFinding[] => [
  ...drifting(subject, assignment).map((what) =>
    tell(
      'drifts',
      `toggles ${what} by itself, and scenes of the set say how it stands: after a scene the first press does nothing.`,
    ),
  ),
  ...toldDeaf(subject, assignment).map(({ list, action, settleMs, what }) => {
    const delay = { amount: settleMs, unit: 'ms' } as const;
    const waiting = assignment[list].map((a) => (a.id === action.id ? { ...a, delay } : a));
    return tell(
      'told-deaf',
      `sets ${what} while its device still loads a program; it needs ${settleMs} ms.`,
      change(`Wait ${settleMs} ms`, { [list]: waiting }),
    );
  }),
];

const isDone = (action: Action): boolean => !action.isOff;

/** The names of functions that are toggled going down and coming up. */
function togglesTwice({ world }: Subject, { press, release }: Assignment): string[] {
  const toggled = (list: readonly Action[]) =>
    list.flatMap((a) => (a.kind === 'toggle' && isDone(a) ? a.functionId : []));
  const again = new Set(toggled(release));
  return toggled(press)
    .filter((id) => again.has(id))
    .flatMap((id) => world.functions.get(id)?.fn.name ?? []);
}

function latchingGestures({ hardware }: Control, { hold, doublePress }: Assignment): string[] {
  if (hardware.switching !== 'latching') return [];
  if (hold.some(isDone)) return ['a hold'];
  return doublePress.some(isDone) ? ['a double press'] : [];
}

/** The names of functions that a board toggles by itself and that scenes set. */
function drifting({ world }: Subject, assignment: Assignment): string[] {
  const isSet = (id: string) => world.songs.some((s) => s.cells.some((cells) => cells.has(id)));
  return actionsOf(assignment).flatMap((a) =>
    a.kind === 'toggle' && isDone(a) && isSet(a.functionId)
      ? (world.functions.get(a.functionId)?.fn.name ?? [])
      : [],
  );
}

/** Notes that typed bytes begin and do not end, as they are sent, each with what ends it. */
function notesOf(
  list: readonly Action[],
): { portId: string; channel: number; note: number; isOn: boolean }[] {
  return list.flatMap((a) =>
    a.kind === 'raw' && isDone(a)
      ? parseBytes(a.bytes).messages.flatMap((m) =>
          m.kind === 'note-on' || m.kind === 'note-off'
            ? {
                portId: a.portId,
                channel: m.channel,
                note: m.note,
                isOn: m.kind === 'note-on' && m.velocity > 0,
              }
            : [],
        )
      : [],
  );
}

/** Notes of an assignment that nothing of it ends. */
const hung = (assignment: Assignment) => {
  const all = notesOf(actionsOf(assignment));
  return all.filter(
    (n) =>
      n.isOn &&
      !all.some((e) => !e.isOn && e.portId === n.portId && e.channel === n.channel && e.note === n.note),
  );
};

function withNoteEnds(assignment: Assignment): Assignment {
  const ends = hung(assignment).map(({ portId, channel, note }): Action => ({
    id: idFrom(`${assignment.controlId} ${channel} ${note}`),
    kind: 'raw',
    portId,
    bytes: [0x80 | channel, note, 64],
  }));
  return { ...assignment, release: [...assignment.release, ...ends] };
}

/** What a board by itself sends to a device after a program and before that has loaded it. */
function toldDeaf({ world }: Subject, assignment: Assignment) {
  return (['press', 'release', 'hold', 'doublePress'] as const).flatMap((list) => {
    const settling = new Map<string, number>();
    return assignment[list].filter(isDone).flatMap((action) => {
      const reached = 'functionId' in action ? world.functions.get(action.functionId) : undefined;
      if (!reached) return [];
      const { device, fn } = reached;
      const waitedMs = action.delay?.unit === 'ms' ? action.delay.amount : 0;
      const settleMs = settling.get(device.id) ?? 0;
      if (loadsProgram(fn)) {
        settling.set(device.id, waitedMs + fn.settleMs);
        return [];
      }
      return settleMs > waitedMs ? [{ list, action, settleMs, what: `${device.name} ${fn.name}` }] : [];
    });
  });
}

/** Banks that a foot gets to and that no switch of any board leads out of. */
function stuckBanks({ world }: Subject, worldBoard: WorldBoard): ProofFinding[] {
  if (worldBoard.banks.length < 2 || worldBoard.board.mode === 'standalone') return [];
  const leads = (a: Assignment) => actionsOf(a).some(leadsOn);
  const elsewhere = world.boards.some(
    (b) => b !== worldBoard && b.banks.some((bank) => [...bank.assignments.values()].some(leads)),
  );
  const inGroups = worldBoard.groups.some((g) =>
    g.pages.some((p) => [...p.assignments.values()].some(leads)),
  );
  if (elsewhere || inGroups) return [];
  const reached = reachedBanks(world, worldBoard);
  return worldBoard.banks.flatMap(({ bank, assignments }) =>
    reached.has(bank.id) && ![...assignments.values()].some(leads)
      ? found(
          'stuck-bank',
          { control: { pageId: bank.id, controlId: worldBoard.board.controls[0]?.id ?? '' } },
          `${worldBoard.device.name}, bank ${bank.name}: no switch leads to a scene, a song or another bank. Put Bank up, or Next, on one of them.`,
        )
      : [],
  );
}

function notStored({ known }: Subject, { board, device }: WorldBoard): ProofFinding[] {
  if (board.mode !== 'standalone') return [];
  const state = known.notStored.get(board.id);
  if (!state) return [];
  const sentence =
    state === 'differs'
      ? `${device.name} has something else stored than its preset says now. Send it and store it, under To the board.`
      : `It is not known what ${device.name} has stored. Look at it, under To the board.`;
  return [found('not-stored', { deviceIds: [device.id], field: `boards.${board.id}` }, sentence)];
}
