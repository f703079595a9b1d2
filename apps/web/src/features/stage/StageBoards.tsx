import {
  assignmentInForce,
  isShining,
  pageOfGroup,
  type World,
  type WorldGroup,
} from '@idle-step/core/engine';
import { isPressed, type Control } from '@idle-step/core/floor';
import { memo } from 'react';
import { useControlNow } from '../../live/use/useControlNow';
import { useLiveOf, useLiveState } from '../../live/use/useLive';
import { useIsDue } from '../../live/use/useIsDue';
import { usePress } from '../../live/use/usePress';
import { Cloth } from '../../ui/Cloth';
import { FitText } from '../../ui/FitText';
import { TapeMark } from '../../ui/TapeMark';
import { nth } from '@idle-step/core/sure';

type Props = { world: World };

/** What each switch does now, in the order in which they lie, with lamps and pedals. */
export function StageBoards({
  world,
  hasPedals,
  hasMinors,
}: Props & { hasPedals: boolean; hasMinors: boolean }) {
  const pedals = (hasPedals ? world.boards : []).flatMap((b, boardIndex) =>
    b.board.controls.filter((c) => c.kind === 'expression-pedal').map((control) => ({ control, boardIndex })),
  );
  return (
    <div className="stage-floor">
      <div className="stage-boards">
        {world.boards.slice(0, 1).map((_, i) => (
          <StageBoard key={i} world={world} boardIndex={i} />
        ))}
        {hasMinors && world.boards.length > 1 && (
          <div className="stage-minors">
            {world.boards.slice(1).map((_, i) => (
              <StageBoard key={i + 1} world={world} boardIndex={i + 1} />
            ))}
          </div>
        )}
      </div>
      {pedals.map(({ control, boardIndex }) => (
        <StagePedal key={control.id} world={world} boardIndex={boardIndex} control={control} />
      ))}
    </div>
  );
}

/** The page in force of each group of a board. */
function Pages({ groups }: { groups: readonly WorldGroup[] }) {
  const state = useLiveState('banks', 'pages');
  const words = groups.map((g) => `${g.group.name}: ${pageOfGroup(g, state)?.bank.name ?? ''}`);
  return <p className="stage-page">{words.join(', ')}</p>;
}

/** The switches of one board in their rows; the first board is the large one, the others share a line. */
function StageBoard({ world, boardIndex }: Props & { boardIndex: number }) {
  const { board, device, groups } = nth(world.boards, boardIndex);
  const rows = rowsOf(
    board.controls.filter((c) => isPressed(c.kind) && (c.kind !== 'key' || isGiven(world, boardIndex, c.id))),
  );
  if (rows.length === 0) return null;
  const widest = Math.max(...rows.map((r) => r.length));
  return (
    <div
      className={boardIndex === 0 ? 'stage-board' : 'stage-board minor'}
      role="group"
      aria-label={device.name}
      style={boardIndex === 0 ? undefined : { flexGrow: widest }}
    >
      {groups.length > 0 && <Pages groups={groups} />}
      {rows.map((row) => (
        <div
          key={nth(row, 0).id}
          className="stage-row"
          style={{ gridTemplateColumns: `repeat(${row.length}, minmax(0, 1fr))` }}
        >
          {row.map((control) => (
            <StageSwitch key={control.id} world={world} boardIndex={boardIndex} control={control} />
          ))}
        </div>
      ))}
    </div>
  );
}

/** Keys that are played have no place on the stage; those that do something in any bank or page have. */
const isGiven = (world: World, boardIndex: number, controlId: string): boolean => {
  const { banks, groups } = nth(world.boards, boardIndex);
  return [...banks, ...groups.flatMap((g) => g.pages)].some((page) => page.assignments.has(controlId));
};

type ControlProps = Props & { boardIndex: number; control: Control };

const StageSwitch = memo(function StageSwitch({ world, boardIndex, control }: ControlProps) {
  const now = useControlNow(world, nth(world.boards, boardIndex), control);
  const { label, devices, lamp } = now;
  const lit = isShining(lamp);
  const isUnknown = lamp.light === 'unknown';
  const isLarge = useLiveOf(({ state }) => state.view === 'labels');
  const isIdle = useIsIdle(world, boardIndex, control.id);
  const colour = devices.length === 1 ? nth(devices, 0).mark.colour : 'scene';
  const press = usePress(control.id);
  const minor = boardIndex > 0;
  const due = useIsDue(control.id);
  return (
    <button
      type="button"
      className={`stage-switch t-${lamp.colour ?? colour} ${lit ? 'lit' : ''} ${lamp.light === 'blink' ? 'blinking' : ''} ${isUnknown ? 'unknown' : ''} ${label && !isIdle ? '' : 'free'} ${due}`}
      title={isIdle ? 'Works only while the set runs, or before it' : undefined}
      aria-pressed={isUnknown ? 'mixed' : lit}
      aria-label={`${label || 'free'}, ${control.name}${isUnknown ? ', not known' : ''}${isIdle ? ', does nothing now' : ''}`}
      data-control={control.name}
      {...press}
    >
      <span className="switch-cloth">
        <Cloth large lit={lit} text="" />
        <span className={lit ? 'switch-text lit' : 'switch-text'}>
          <FitText text={label} max={(isLarge ? 64 : minor ? 30 : 45) * roomFor()} min={18} />
        </span>
      </span>
      <span className="stage-lamp">
        <i />
        {devices.map((d) => (
          <TapeMark key={d.id} mark={d.mark} size={18} />
        ))}
      </span>
    </button>
  );
});

/** A large screen has room for larger labels. */
const roomFor = (): number => (window.innerWidth >= 1600 && window.innerHeight >= 900 ? 1.4 : 1);

/** Whether all that a press does belongs to another time: beginning a set that runs, or ending one that does not. */
const useIsIdle = (world: World, boardIndex: number, controlId: string): boolean =>
  useLiveOf(({ state }) => {
    const actions = assignmentInForce(world, nth(world.boards, boardIndex), state, controlId)?.press;
    if (!actions || actions.length === 0) return false;
    const isRunning = state.run !== null;
    return actions.every((a) => a.kind === 'show' && a.to !== 'next' && isRunning === (a.to === 'begin'));
  });

const StagePedal = memo(function StagePedal({ world, boardIndex, control }: ControlProps) {
  const { label, devices, position, value } = useControlNow(world, nth(world.boards, boardIndex), control);
  const device = devices[0];
  const share = `${(position / 127) * 100}%`;
  const due = useIsDue(control.id);
  return (
    <div className={`stage-pedal t-${device?.mark.colour ?? 'slate'} ${due}`} data-control={control.name}>
      <span className="pedal-name">
        <FitText text={label || control.name} max={36 * roomFor()} min={18} />
      </span>
      <span className="treadle">
        <b style={{ height: share }} />
        <u style={{ bottom: `calc(${share} - 1px)` }} />
      </span>
      <span className="pedal-value num">
        {device && <TapeMark mark={device.mark} size={22} />}
        {value}
      </span>
    </div>
  );
});

/** Switches grouped by how far away they lie, the far row first, each row from left to right. */
function rowsOf(switches: readonly Control[]): Control[][] {
  const rows: Control[][] = [];
  for (const control of [...switches].sort((a, b) => a.yMm - b.yMm || a.xMm - b.xMm)) {
    const row = rows.at(-1);
    if (row && Math.abs(nth(row, 0).yMm - control.yMm) < control.heightMm / 2) row.push(control);
    else rows.push([control]);
  }
  return rows.map((row) => row.sort((a, b) => a.xMm - b.xMm));
}
