import { isShining, pageIndex, type PagesInForce, type World, type WorldBoard } from '@idle-step/core/engine';
import { isPressed, type Control, type Lamp } from '@idle-step/core/floor';
import type { Device } from '@idle-step/core/gear';
import { memo, useRef, type CSSProperties, type ReactNode } from 'react';
import { useControlNow } from '../live/use/useControlNow';
import { useLiveHost, useLiveState } from '../live/use/useLive';
import { useIsDue } from '../live/use/useIsDue';
import { usePress } from '../live/use/usePress';
import { Cloth } from '../ui/Cloth';
import { Corners } from '../ui/Corners';
import { TapeMark } from '../ui/TapeMark';
import { useSharedWords } from './useSharedWords';
import { nth } from '@idle-step/core/sure';

type Props = {
  world: World;
  boardIndex: number;
  /** Pixels a millimetre. */
  scale: number;
  size: 'small-size' | 'full-size';
  selectedControlId?: string | null;
  onSelect?(controlId: string): void;
  /** Whether mouse, touch and keys play it; otherwise they only select. */
  plays?: boolean;
  /** Pages that are looked at in place of those in force. */
  looked?: PagesInForce | null;
  style?: CSSProperties;
};

/** A board to scale, as it lies before the feet, and as live; played with mouse, touch and keyboard where it is said. */
export function BoardView({
  world,
  boardIndex,
  scale,
  size,
  selectedControlId,
  onSelect,
  plays = true,
  looked = null,
  style,
}: Props) {
  const worldBoard = nth(world.boards, boardIndex);
  const { board, device } = worldBoard;
  const shared = useSharedWords(world, worldBoard, looked);
  return (
    <div
      className={`board ${size} ${plays ? '' : 'only-selects'}`}
      data-bs-theme="dark"
      role="group"
      aria-label={device.name}
      style={{ ...style, width: board.widthMm * scale, height: board.heightMm * scale }}
    >
      {board.controls.map((control, i) => (
        <ControlView
          key={control.id}
          world={world}
          worldBoard={worldBoard}
          control={control}
          scale={scale}
          size={size}
          isSelected={selectedControlId === control.id}
          onSelect={onSelect}
          plays={plays}
          looked={looked}
          shared={shared[i] ?? 0}
        />
      ))}
      {size === 'full-size' && <PageTags worldBoard={worldBoard} scale={scale} looked={looked} />}
    </div>
  );
}

type ControlViewProps = Pick<
  ControlProps,
  'control' | 'size' | 'isSelected' | 'onSelect' | 'plays' | 'shared'
> & {
  world: World;
  worldBoard: WorldBoard;
  scale: number;
  looked: PagesInForce | null;
};

/** One control: each is drawn by itself, so that a press draws what it changes and nothing else. */
const ControlView = memo(function ControlView({
  world,
  worldBoard,
  scale,
  looked,
  ...own
}: ControlViewProps) {
  const { control } = own;
  const { isDown, lamp, position, share, value, devices, ...now } = useControlNow(
    world,
    worldBoard,
    control,
    looked,
  );
  const common = { ...own, ...now, devices, place: boxOf(control, scale) };
  const first = devices[0]?.mark.colour ?? 'slate';
  if (isPressed(control.kind))
    return (
      <SwitchView {...common} isDown={isDown} lamp={lamp} colour={devices.length === 1 ? first : 'scene'} />
    );
  if (control.kind === 'knob' || control.kind === 'encoder')
    return <KnobView {...common} share={share} colour={first} value={value} />;
  return <PedalView {...common} position={position} colour={first} value={value} />;
});

/** The page in force of each group, over its controls: the wrong page is the usual reason why a knob does nothing. */
function PageTags({
  worldBoard,
  scale,
  looked,
}: {
  worldBoard: WorldBoard;
  scale: number;
  looked: PagesInForce | null;
}) {
  const inForce = useLiveState('banks', 'pages');
  const state = looked ?? inForce;
  return worldBoard.groups.map((worldGroup) => {
    const { group, pages } = worldGroup;
    const inGroup = worldBoard.board.controls.filter((c) => group.controlIds.includes(c.id));
    const at = pageIndex(worldGroup, state);
    if (inGroup.length === 0) return null;
    const left = Math.min(...inGroup.map((c) => c.xMm)) * scale;
    const top = Math.min(...inGroup.map((c) => c.yMm)) * scale;
    return (
      <span
        key={group.id}
        className="page-tag"
        style={{ left, top }}
        title={`${group.name}: page ${at + 1} of ${pages.length}, ${pages[at]?.bank.name ?? ''}`}
      >
        {at + 1}/{pages.length} {pages[at]?.bank.name}
      </span>
    );
  });
}

const boxOf = (control: Control, scale: number): CSSProperties => ({
  left: control.xMm * scale,
  top: control.yMm * scale,
  width: control.widthMm * scale,
  height: control.heightMm * scale,
});

type ControlProps = {
  control: Control;
  label: string;
  place: CSSProperties;
  size: Props['size'];
  isSelected: boolean;
  onSelect: ((controlId: string) => void) | undefined;
  plays: boolean;
  devices: readonly Device[];
  colour: string;
  /** The colour of its cloth label, `null` for plain cloth. */
  cloth: string | null;
  /** How many first words of the label others of the board begin with too. */
  shared: number;
};

/** Narrower than this there is no room for words, in px. */
const WORDS_PX = 34;
/** Narrower than this the words are set tight, in px. */
const TIGHT_PX = 54;
/** A letter on the large board takes about this much, and the ends of the cloth that, in px. */
const LETTER_PX = 8;
const ENDS_PX = 18;
/** Lower than this a knob has no room for its value, in px. */
const VALUE_PX = 84;

/** The cloth of a control, where there is room for it. */
function ControlCloth({
  label,
  cloth,
  place,
  shared,
}: Pick<ControlProps, 'label' | 'cloth' | 'place' | 'shared'>) {
  const px = Number(place.width);
  if (px < WORDS_PX) return <span />;
  const classes = [
    cloth ? `t-${cloth} coloured` : '',
    px < TIGHT_PX ? 'tight' : '',
    px < ENDS_PX + LETTER_PX * label.length ? 'long' : '',
  ];
  return (
    <Cloth
      text={label || '–'}
      lit={label !== ''}
      shared={shared}
      className={classes.filter(Boolean).join(' ')}
    />
  );
}

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
  plays,
  devices,
  colour,
  cloth,
  shared,
  isDown,
  lamp,
}: ControlProps & { isDown: boolean; lamp: Lamp }) {
  const isLit = isShining(lamp);
  const isUnknown = lamp.light === 'unknown';
  const isFull = size === 'full-size';
  const due = useIsDue(control.id);
  const classes = [
    `control switch is-${control.kind}`,
    `t-${lamp.colour ?? colour}`,
    isLit ? 'lit' : '',
    lamp.light === 'blink' ? 'blinking' : '',
    isUnknown ? 'unknown' : '',
    isDown ? 'down' : '',
    isSelected ? 'framed' : '',
    due,
  ];
  return (
    <button
      type="button"
      className={classes.filter(Boolean).join(' ')}
      style={place}
      aria-pressed={isUnknown ? 'mixed' : isLit}
      aria-label={`${label || 'free'}, ${control.name}${isUnknown ? ', not known' : ''}`}
      data-control={control.name}
      onFocus={() => onSelect?.(control.id)}
      {...usePress(control.id, () => onSelect?.(control.id), plays)}
    >
      {isSelected && <Corners />}
      <ControlCloth label={label} cloth={cloth} place={place} shared={shared} />
      {isFull && Number(place.width) >= 90 ? (
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

/** Keys that move a pedal or knob: the place that each brings it to, 0–127. */
const MOVE_KEYS: Record<string, (at: number) => number> = {
  ArrowUp: (at) => at + 1,
  ArrowRight: (at) => at + 1,
  ArrowDown: (at) => at - 1,
  ArrowLeft: (at) => at - 1,
  PageUp: (at) => at + 10,
  PageDown: (at) => at - 10,
  Home: () => 0,
  End: () => 127,
};

type MovedProps = ControlProps & {
  look: 'pedal' | 'knob';
  /** 0–127. */
  at: number;
  value: string;
  onGrab(e: React.PointerEvent<HTMLDivElement>): void;
  onDrag(e: React.PointerEvent<HTMLDivElement>): void;
  onTurn?(detents: number): void;
  onKey(next: (at: number) => number): void;
  children: ReactNode;
};

/** What a pedal and a knob have in common: grabbed, dragged and moved by keys where it plays, else only selected. */
function MovedView({
  control,
  label,
  place,
  cloth,
  shared,
  isSelected,
  onSelect,
  plays,
  colour,
  ...own
}: MovedProps) {
  const due = useIsDue(control.id);
  return (
    <div
      className={`control ${own.look} is-${control.kind} t-${colour} ${isSelected ? 'framed' : ''} ${due}`}
      style={place}
      role="slider"
      tabIndex={0}
      aria-label={`${label || 'free'}, ${control.name}`}
      aria-orientation={own.look === 'pedal' ? 'vertical' : undefined}
      aria-valuemin={0}
      aria-valuemax={127}
      aria-valuenow={Math.round(own.at)}
      aria-valuetext={own.look === 'knob' ? own.value : undefined}
      data-control={control.name}
      onFocus={() => onSelect?.(control.id)}
      onPointerDown={(e) => {
        onSelect?.(control.id);
        if (!plays) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        own.onGrab(e);
      }}
      onPointerMove={(e) => {
        if (plays && e.currentTarget.hasPointerCapture(e.pointerId)) own.onDrag(e);
      }}
      onWheel={(e) => plays && own.onTurn?.(e.deltaY < 0 ? 1 : -1)}
      onKeyDown={(e) => {
        const next = MOVE_KEYS[e.key];
        if (!plays || !next || e.altKey || e.ctrlKey || e.metaKey) return;
        e.preventDefault();
        own.onKey(next);
      }}
    >
      {isSelected && <Corners />}
      <ControlCloth label={label} cloth={cloth} place={place} shared={shared} />
      {own.children}
    </div>
  );
}

function PedalView({ position, ...own }: ControlProps & { position: number; value: string }) {
  const { control, size, devices, value } = own;
  const host = useLiveHost();
  const follow = (e: React.PointerEvent<HTMLDivElement>) => {
    const treadle = e.currentTarget.querySelector('.treadle')!.getBoundingClientRect();
    host.boards.movePedal(control.id, (1 - (e.clientY - treadle.top) / treadle.height) * 127);
  };
  const share = `${(position / 127) * 100}%`;
  return (
    <MovedView
      {...own}
      look="pedal"
      at={position}
      onGrab={follow}
      onDrag={follow}
      onKey={(next) => host.boards.movePedal(control.id, next)}
    >
      <span className="treadle">
        <b style={{ height: share }} />
        <u style={{ bottom: `calc(${share} - 1px)` }} />
      </span>
      <span className="pedal-value">
        {devices[0] && <TapeMark mark={devices[0].mark} size={size === 'full-size' ? 14 : 10} />}
        {value}
      </span>
    </MovedView>
  );
}

/** Pixels that the mouse goes for one step of a knob. */
const STEP_PX = 2;

/** A knob or encoder: pulled up and down, or turned with the arrows. */
function KnobView({ share, ...own }: ControlProps & { share: number; value: string }) {
  const { control, size, devices, place, value } = own;
  const host = useLiveHost();
  const lastY = useRef(0);
  const turn = (detents: number) => host.boards.turnEncoder(control.id, detents);
  return (
    <MovedView
      {...own}
      look="knob"
      at={share * 127}
      onGrab={(e) => {
        lastY.current = e.clientY;
      }}
      onDrag={(e) => {
        const steps = Math.trunc((lastY.current - e.clientY) / STEP_PX);
        lastY.current -= steps * STEP_PX;
        if (steps !== 0) turn(steps);
      }}
      onTurn={turn}
      onKey={(next) => {
        if (control.hardware.encoding === 'absolute') host.boards.movePedal(control.id, next);
        else turn(next(64) - 64);
      }}
    >
      <span className="dial">
        <i style={{ transform: `rotate(${-135 + share * 270}deg)` }} />
      </span>
      {Number(place.height) >= VALUE_PX && (
        <span className="pedal-value">
          {devices[0] && <TapeMark mark={devices[0].mark} size={size === 'full-size' ? 12 : 8} />}
          {value}
        </span>
      )}
    </MovedView>
  );
}
