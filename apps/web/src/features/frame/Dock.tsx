import { bankIndex, pageOfGroup } from '@idle-step/core/engine';
import { ChevronDown, ChevronUp, Keyboard } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useLocation } from 'react-router-dom';
import { useRig } from '../../drafts/useDocs';
import type { LastPress as Pressed } from '../../live/use/lastPress';
import { useIsShown, useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/use/useLive';
import { milliseconds } from '@idle-step/core/proof';
import { useAppDispatch, useAppSelector } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { IconButton } from '../../ui/IconButton';
import { TapeMark } from '../../ui/TapeMark';
import { useMeasure } from '../../ui/hooks/useMeasure';
import { BoardView } from '../../boards/BoardView';
import { stripLayout } from '../../boards/stripLayout';
import { isOfControl } from '../../live/log/logLine';
import { screenChanged } from '../../screen/screenSlice';
import { ByItself, type Folding } from '../../ui/ByItself';
import { useFold } from './useFold';
import { timeOfDay } from '../../words/times';
import { nth } from '@idle-step/core/sure';

const RULER_STEP_MM = 500;

/** The floor along the bottom: the boards to scale, always live and pressable. */
export function Dock() {
  const { pathname } = useLocation();
  // Floor shows its board large in its first room only.
  const isOnFloor = /^\/floor(\/[^/]*)?\/?$/.test(pathname);
  // The first press can be made on the floor.
  const folding = useFold('dock', isOfControl, pathname === '/begin');
  // On Floor a board lies open above, so the small one is folded away there.
  const [floorUnfolded, setFloorUnfolded] = useState(false);
  const folded = isOnFloor ? !floorUnfolded : folding.isFolded;
  const fold = (next: boolean) => (isOnFloor ? setFloorUnfolded(!next) : folding.fold(next));
  if (folded)
    return (
      <footer className="dock folded">
        <IconButton icon={ChevronUp} label="Unfold the floor" onClick={() => fold(false)} />
        {!isOnFloor && <ByItself folding={folding} of="floor" />}
        <b>Floor</b>
        <span className="small muted">{foldedWords(isOnFloor, folding)}</span>
        <LastPress />
        <KeysSwitch />
      </footer>
    );
  return (
    <footer className="dock" aria-label="Floor" ref={folding.ref}>
      <BankTools />
      <FloorStrip />
      <div className="dock-last">
        <span className="fold">
          <KeysSwitch />
          {!isOnFloor && <ByItself folding={folding} of="floor" />}
          <IconButton icon={ChevronDown} label="Fold the floor" onClick={() => fold(true)} />
        </span>
        <LastPress />
      </div>
    </footer>
  );
}

function foldedWords(isOnFloor: boolean, { isByItself }: Folding): string {
  if (isOnFloor) return 'folded while a board is open above; feet still work';
  return isByItself ? 'opens when a switch is pressed' : 'folded; feet still work';
}

/** Whether it is known which boards there are: not while the rig or what it plays is being fetched. */
function useIsKnown(): boolean {
  const { rig, isLoading } = useRig();
  const isShown = useIsShown(rig?.id);
  return isShown || (!rig && !isLoading);
}

function BankTools() {
  const host = useLiveHost();
  const world = useWorld();
  const isKnown = useIsKnown();
  const state = useLiveState('banks', 'pages');
  const first = world.boards[0];
  if (!first) return <div className="dock-tools muted">{isKnown ? 'no board' : ''}</div>;
  const index = bankIndex(first, state);
  const bank = first.banks[index]?.bank;
  if (!bank) return <div className="dock-tools muted">no banks</div>;
  const turn = (to: 'up' | 'down') => host.command({ kind: 'bank', boardId: first.board.id, to });
  return (
    <div className="dock-tools">
      <span className="muted">Bank {index + 1}</span>
      <span className="bank-name">{bank.name}</span>
      <span className="pair">
        <IconButton line icon={ChevronDown} label="Bank down" onClick={() => turn('down')} />
        <IconButton line icon={ChevronUp} label="Bank up" onClick={() => turn('up')} />
      </span>
    </div>
  );
}

/** Whether the digit keys press switches: off until somebody wants it. */
function KeysSwitch() {
  const dispatch = useAppDispatch();
  const keysPlay = useAppSelector((s) => s.screen.keysPlay);
  return (
    <IconButton
      icon={Keyboard}
      label={keysPlay ? 'Play by keys is on: 1 to 0 press switches' : 'Play by keys: 1 to 0 press switches'}
      pressed={keysPlay}
      onClick={() => dispatch(screenChanged({ keysPlay: !keysPlay }))}
    />
  );
}

/** The boards as they lie on the floor; where they need more room than there is, the strip is moved to the side. */
function FloorStrip() {
  const world = useWorld();
  const isKnown = useIsKnown();
  const state = useLiveState('banks', 'pages');
  const [strip, roomPx] = useMeasure();
  const { places, scale, widthPx } = useMemo(
    () =>
      stripLayout(
        world.boards.map(({ board }) => board),
        roomPx,
      ),
    [world, roomPx],
  );
  const ticks = Array.from({ length: Math.ceil((widthPx - 16) / (RULER_STEP_MM * scale)) }, (_, i) => i);
  return (
    <div className="dock-floor" ref={strip}>
      {isKnown && world.boards.length === 0 && (
        <p className="p-3 muted">No board yet. Add a controller in Rig, and it lies here to be pressed.</p>
      )}
      <div className="dock-boards" style={{ width: widthPx }}>
        {world.boards.map(({ board, device, groups }, i) => {
          const { left, top, scale: own, tag } = nth(places, i);
          return (
            <div key={board.id}>
              <BoardView
                world={world}
                boardIndex={i}
                scale={own}
                size="small-size"
                style={{ position: 'absolute', left, top }}
              />
              {tag && (
                <span
                  className="board-tag"
                  title={device.name}
                  style={{
                    left: tag.left,
                    top: tag.top,
                    justifyContent: tag.endsThere ? 'flex-end' : 'flex-start',
                  }}
                >
                  <TapeMark mark={device.mark} size={12} />
                  <span className="tag-words">
                    {device.name}
                    {groups.map((worldGroup) => (
                      <span key={worldGroup.group.id} className="page-now">
                        {' '}
                        {worldGroup.group.name}: {pageOfGroup(worldGroup, state)?.bank.name}
                      </span>
                    ))}
                  </span>
                </span>
              )}
            </div>
          );
        })}
        <div className="floor-ruler" aria-hidden="true">
          {ticks.map((i) => (
            <span key={i} style={{ left: 16 + i * RULER_STEP_MM * scale }}>
              {i === 0 ? '0' : `${(i * RULER_STEP_MM) / 1000} m`}
            </span>
          ))}
        </div>
      </div>
    </div>
  );
}

function LastPress() {
  const world = useWorld();
  const lastPress = useLiveOf((live) => live.lastPress);
  const control = lastPress && world.controls.get(lastPress.controlId)?.control;
  return (
    <div className="last-press">
      <div className="own-box">
        {lastPress ? (
          <Told lastPress={lastPress} name={control?.name} />
        ) : (
          <span className="muted">No press yet</span>
        )}
      </div>
    </div>
  );
}

function Told({ lastPress, name }: { lastPress: Pressed; name: string | undefined }) {
  return (
    <>
      <span className="muted">
        Last press <span className="num">{timeOfDay(lastPress.wallMs, true)}</span>
      </span>{' '}
      <span title={`${lastPress.label} ${name ?? ''}`.trim()}>
        <Cloth text={lastPress.label} /> <span className="muted">{name}</span>
      </span>{' '}
      <span>
        {lastPress.waits && <span className="muted">waits, </span>}
        <b className="num">{lastPress.messages}</b> {lastPress.messages === 1 ? 'message' : 'messages'}
        {lastPress.untaken > 0 && (
          <span className="text-caution">
            , {lastPress.untaken === lastPress.messages ? 'none' : `${lastPress.untaken} not`} taken by a port
          </span>
        )}
        {lastPress.settledInMs > 0 && (
          <>
            , settled in <b className="num">{milliseconds(lastPress.settledInMs)}</b>
          </>
        )}
      </span>
    </>
  );
}
