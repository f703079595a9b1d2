import { useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useLocation } from 'react-router-dom';
import { isTyping } from '../../documents/useUndoKeys';

const EVERYWHERE: readonly [string, string][] = [
  [
    '1 to 5',
    'where keys play (the key sign by the floor, and on the stage): press the near switches of the first board',
  ],
  ['6 to 0', 'press its far switches'],
  ['Ctrl or Cmd + Z', 'undo, with Shift redo'],
  ['?', 'this list'],
];

const OF_PLACE: Record<string, readonly [string, string][]> = {
  rig: [
    ['Enter on a socket', 'pick up a cable there; Enter on another plugs it in, Escape lets go'],
    ['Arrows in the chart', 'from cell to cell, with Shift several rows'],
    ['Enter, or type', 'edit the cell; Enter goes down, Tab right, Escape leaves it'],
    ['Ctrl or Cmd + V', 'paste rows of a spreadsheet from the cell on; + C copies rows'],
    ['Shift + Delete', 'delete the rows in hand'],
    ['Arrow left, right', 'from room to room of a device'],
  ],
  floor: [
    ['P', 'a click on the large board edits, or plays'],
    ['Tab, then Space', 'press the switch that has the focus, held as long as the key'],
    ['Arrow up, down', 'move the pedal that has the focus; Home heel, End toe'],
    ['Alt + arrow up, down', 'move the action or bank that has the focus'],
    ['Arrows in the table', 'from cell to cell, with Shift several; Ctrl or Cmd + A all'],
    ['Enter, or type', 'edit the cell: note 36, CC 7 value 100, program 5; Delete clears'],
    ['Ctrl or Cmd + C, V', 'copy cells, and paste them or cells of a spreadsheet'],
    ['Arrows on the board', 'under Board: move the controls in hand by 2 mm, with Shift by 10'],
  ],
  routes: [
    ['Space on a route’s handle', 'pick it up; arrows move it, Space puts it down, Escape puts it back'],
    ['Alt + arrow up, down', 'move the route that has the focus'],
    ['Enter on a part of its sentence', 'open its fields; Enter again closes them'],
    ['Enter in the bytes', 'try or trace them'],
  ],
  songs: [
    ['Arrows', 'from cell to cell'],
    ['Enter, or type', 'set the cell; Enter keeps, Escape leaves it'],
    ['Delete', 'carry over from the scene before'],
  ],
  proof: [
    ['Enter in a reason', 'set the finding aside; Escape leaves it'],
    ['Ctrl or Cmd + Z', 'take back a mend, or a layout that was taken'],
  ],
  sets: [
    ['Space on a line’s handle', 'pick it up; arrows move it, Space puts it down, Escape puts it back'],
    ['Alt + arrow up, down', 'move the line that has the focus'],
  ],
};

/** The shortcuts of the place, on `?`. */
export function ShortcutList() {
  const [isOpen, setOpen] = useState(false);
  const place = useLocation().pathname.split('/')[1] ?? '';
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== '?' || isTyping(event)) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Modal show={isOpen} onHide={() => setOpen(false)} animation={false} aria-labelledby="shortcuts-title">
      <Modal.Header closeButton>
        <h2 id="shortcuts-title">Keys</h2>
      </Modal.Header>
      <Modal.Body>
        <table className="differences">
          <tbody>
            {[...(OF_PLACE[place] ?? []), ...EVERYWHERE].map(([keys, what]) => (
              <tr key={keys}>
                <th scope="row" className="text-nowrap">
                  {keys}
                </th>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal.Body>
    </Modal>
  );
}
