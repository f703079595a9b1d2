import type { FullRig } from '@idle-step/core/routing';
import { BOARD_SHAPES } from '@idle-step/core/floor';
import { Dropdown } from 'react-bootstrap';
import { EMPTY_SHAPE, withNewBoard, withoutBoard } from '../edits/boardEdits';

type Props = {
  rig: FullRig;
  onAdd(made: ReturnType<typeof withNewBoard>): void;
};

const SHAPES = [
  ...BOARD_SHAPES.map((s) => ({ kind: s.kind, text: s.text })),
  { kind: EMPTY_SHAPE, text: 'Another controller, built control by control' },
];

/** Every controller that can be added, each with its board: the same from Rig and from Floor. */
export function ControllerItems({ rig, onAdd }: Props) {
  const bare = withoutBoard(rig);
  return (
    <>
      <Dropdown.Header>Under feet and hands</Dropdown.Header>
      {SHAPES.map((s) => (
        <Dropdown.Item key={s.kind} as="button" onClick={() => onAdd(withNewBoard(rig, s.kind, false))}>
          {s.text}
        </Dropdown.Item>
      ))}
      <Dropdown.Item as="button" onClick={() => onAdd(withNewBoard(rig, 'four-small', true))}>
        Four switches on a screen only
      </Dropdown.Item>
      <Dropdown.Item as="button" onClick={() => onAdd(withNewBoard(rig, 'sixteen-pads', true))}>
        Sixteen pads on a screen only
      </Dropdown.Item>
      {bare.map((device) => (
        <ShapesFor key={device.id} rig={rig} device={device} onAdd={onAdd} />
      ))}
    </>
  );
}

/** A board for a controller that stands in the rig without one. */
function ShapesFor({ rig, device, onAdd }: Props & { device: FullRig['devices'][number] }) {
  return (
    <>
      <Dropdown.Header>A board for {device.name}</Dropdown.Header>
      {SHAPES.map((s) => (
        <Dropdown.Item
          key={s.kind}
          as="button"
          onClick={() => onAdd(withNewBoard(rig, s.kind, false, device.id))}
        >
          {s.text}
        </Dropdown.Item>
      ))}
    </>
  );
}
