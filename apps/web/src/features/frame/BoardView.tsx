import { devicesMoved, labelOf, type LiveState, type World, type WorldBoard } from '@idle-step/core/engine';
import type { Assignment, Control } from '@idle-step/core/floor';
import { shownValue } from '@idle-step/core/gear';
import { memo, type CSSProperties } from 'react';
import { useLiveHost } from '../../live/useLive';
import { usePress } from '../../live/usePress';
import { Cloth } from '../../ui/Cloth';
import { Corners } from '../../ui/Corners';
import { TapeMark } from '../../ui/TapeMark';

type Props = {
  world: World;
  state: LiveState;
  boardIndex: number;
  /** Pixels a millimetre. */
  scale: number;
  size: 'small-size' | 'full-size';
  selectedControlId?: string | null;
  onSelect?(controlId: string): void;
  style?: CSSProperties;
};

/** A board to scale, as it lies before the feet: always live, pressable with mouse, touch and keyboard. */
export function BoardView({
  world,
  state,
  boardIndex,
  scale,
  size,
  selectedControlId,
  onSelect,
  style,
}: Props) {
  const worldBoard = world.boards[boardIndex]!;
  const { board, device } = worldBoard;
  return (
    <div
      className={`board ${size}`}
      data-bs-theme="dark"
      role="group"
      aria-label={device.name}
      style={{ ...style, width: board.widthMm * scale, height: board.heightMm * scale }}
    >
      {board.controls.map((control) => {
        const assignment = assignmentInForce(worldBoard, state, control.id);
        const common = {
          control,
          label: labelOf(world, assignment, state.position.songIndex),
          place: placeOf(control, scale),
          size,
          isSelected: selectedControlId === control.id,
          onSelect,
        };
        const moved = devicesMoved(world, assignment, state.position.songIndex);
        return control.kind === 'footswitch' ? (
          <SwitchView
            key={control.id}
            {...common}
            isLit={state.lamps[control.id] ?? false}
            isDown={state.held[control.id]?.gesture.isDown ?? false}
            devices={moved}
            colour={moved.length === 1 ? moved[0]!.mark.colour : 'scene'}
          />
        ) : (
          <PedalView
            key={control.id}
            {...common}
            position={state.pedals[control.id] ?? 0}
            devices={moved}
            colour={moved[0]?.mark.colour ?? 'slate'}
            value={sweptValue(world, state, assignment)}
          />
        );
      })}
    </div>
  );
}

export const assignmentInForce = (
  { board, banks }: WorldBoard,
  state: LiveState,
  controlId: string,
): Assignment | undefined => banks[state.banks[board.id] ?? 0]?.assignments.get(controlId);

const placeOf = (control: Control, scale: number): CSSProperties => ({
  left: control.xMm * scale,
  top: control.yMm * scale,
  width: control.widthMm * scale,
  height: control.heightMm * scale,
});

/** What the function of a pedal was last told, as people see it; empty while that is not known. */
export function sweptValue(world: World, state: LiveState, assignment: Assignment | undefined): string {
  const sweep = assignment?.sweeps[0];
  const reached = sweep && world.functions.get(sweep.functionId);
  const value = sweep && state.values[sweep.functionId];
  return reached && value !== undefined ? shownValue(reached.device, reached.fn, value).number : '–';
}

type ControlProps = {
  control: Control;
  label: string;
  place: CSSProperties;
  size: Props['size'];
  isSelected: boolean;
  onSelect: ((controlId: string) => void) | undefined;
  devices: ReturnType<typeof devicesMoved>;
  colour: string;
};

const Marks = memo(function Marks({ devices, size }: { devices: ControlProps['devices']; size: number }) {
  return (
    <span className="marks">
      {devices.map((d) => (
        <TapeMark key={d.id} mark={d.mark} size={size} />
      ))}
    </span>
  );
});

function SwitchView({
  control,
  label,
  place,
  size,
  isSelected,
  onSelect,
  devices,
  colour,
  isLit,
  isDown,
}: ControlProps & { isLit: boolean; isDown: boolean }) {
  const isFull = size === 'full-size';
  const classes = [
    'control switch',
    `t-${colour}`,
    isLit ? 'lit' : '',
    isDown ? 'down' : '',
    isSelected ? 'framed' : '',
  ];
  return (
    <button
      type="button"
      className={classes.filter(Boolean).join(' ')}
      style={place}
      aria-pressed={isLit}
      aria-label={`${label || 'free'}, ${control.name}`}
      data-control={control.name}
      onFocus={() => onSelect?.(control.id)}
      {...usePress(control.id, () => onSelect?.(control.id))}
    >
      {isSelected && <Corners />}
      <Cloth text={label || '–'} lit={label !== ''} />
      {isFull ? (
        <span className="middle">
          <span className="spot" title={control.name} data-spot={shortPlace(control.name)} />
          <span className="disc" />
          <span />
        </span>
      ) : (
        <span className="disc" />
      )}
      <Marks devices={devices} size={isFull ? 14 : 9.6} />
    </button>
  );
}

/** A place in two signs, for the room beside a disc. Example: `far 3` is `F3`. */
const shortPlace = (name: string): string =>
  name
    .split(/\s+/)
    .map((word) => (/^\d/.test(word) ? word : word.charAt(0).toUpperCase()))
    .join('')
    .slice(0, 4);

const PEDAL_KEYS: Record<string, (at: number) => number> = {
  ArrowUp: (at) => at + 1,
  ArrowRight: (at) => at + 1,
  ArrowDown: (at) => at - 1,
  ArrowLeft: (at) => at - 1,
  PageUp: (at) => at + 10,
  PageDown: (at) => at - 10,
  Home: () => 0,
  End: () => 127,
};

function PedalView({
  control,
  label,
  place,
  size,
  isSelected,
  onSelect,
  devices,
  colour,
  position,
  value,
}: ControlProps & { position: number; value: string }) {
  const host = useLiveHost();
  const follow = (e: React.PointerEvent<HTMLDivElement>) => {
    const treadle = e.currentTarget.querySelector('.treadle')!.getBoundingClientRect();
    host.movePedal(control.id, (1 - (e.clientY - treadle.top) / treadle.height) * 127);
  };
  const share = `${(position / 127) * 100}%`;
  return (
    <div
      className={`control pedal t-${colour} ${isSelected ? 'framed' : ''}`}
      style={place}
      role="slider"
      tabIndex={0}
      aria-label={`${label || 'free'}, ${control.name}`}
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={127}
      aria-valuenow={position}
      data-control={control.name}
      onFocus={() => onSelect?.(control.id)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        onSelect?.(control.id);
        follow(e);
      }}
      onPointerMove={(e) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) follow(e);
      }}
      onKeyDown={(e) => {
        const next = PEDAL_KEYS[e.key];
        if (!next || e.altKey || e.ctrlKey || e.metaKey) return;
        e.preventDefault();
        host.movePedal(control.id, next);
      }}
    >
      {isSelected && <Corners />}
      <Cloth text={label || '–'} lit={label !== ''} />
      <span className="treadle">
        <b style={{ height: share }} />
        <u style={{ bottom: `calc(${share} - 1px)` }} />
      </span>
      <span className="pedal-value">
        {devices[0] && <TapeMark mark={devices[0].mark} size={size === 'full-size' ? 14 : 10} />}
        {value}
      </span>
    </div>
  );
}
