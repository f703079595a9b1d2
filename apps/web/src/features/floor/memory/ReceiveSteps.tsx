import type { Board } from '@idle-step/core/floor';
import { receiveKeys } from '@idle-step/core/memory';
import type { FullRig } from '@idle-step/core/routing';
import { Pencil } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { Trouble } from '../../../ui/Trouble';

const MOST = 20;
const LONGEST = 200;

/** How a board is brought to take what is sent: kept with the board, ticked off as one goes. */
export function ReceiveSteps({ rig, board }: { rig: FullRig; board: Board }) {
  const edit = useEdit('rigs');
  const [done, setDone] = useState<ReadonlySet<number>>(new Set());
  const [typed, setTyped] = useState<string | null>(null);
  const { receiveSteps: steps } = board;
  const lines = (typed ?? '')
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
  const wrong =
    lines.length > MOST
      ? `These are ${lines.length} steps; at most ${MOST} are kept.`
      : lines.some((l) => l.length > LONGEST)
        ? `Step ${lines.findIndex((l) => l.length > LONGEST) + 1} is longer than ${LONGEST} letters.`
        : null;
  const keep = () => {
    edit(rig.id, 'say how a board receives', (r) => ({
      ...r,
      boards: r.boards.map((b) => (b.id === board.id ? { ...b, receiveSteps: lines } : b)),
    }));
    setDone(new Set());
    setTyped(null);
  };
  const next = steps.findIndex((_, i) => !done.has(i));
  return (
    <section className="receive-steps" aria-label="Ready to receive">
      <h2>Ready to receive</h2>
      {typed !== null ? (
        <>
          <Form.Label htmlFor="receive-steps">One step a line</Form.Label>
          <Form.Control
            as="textarea"
            id="receive-steps"
            rows={6}
            autoFocus
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <Trouble>{wrong}</Trouble>
          <Button variant="go" disabled={wrong !== null} onClick={keep}>
            Keep
          </Button>
          <Button variant="quiet" onClick={() => setTyped(null)}>
            Leave it
          </Button>
        </>
      ) : steps.length === 0 ? (
        <>
          <p className="muted">
            Most boards take a memory only after something was held while they were switched on. Write down
            how this one is brought there, and tick it off each time.
          </p>
          <Button variant="quiet" onClick={() => setTyped(usualSteps(board).join('\n'))}>
            <Pencil size={16} strokeWidth={1.75} aria-hidden="true" />
            Write the steps
          </Button>
        </>
      ) : (
        <>
          <ol>
            {steps.map((step, i) => (
              <li key={i} className={i === next ? 'next' : ''}>
                <Form.Check
                  id={`receive-${board.id}-${i}`}
                  label={step}
                  checked={done.has(i)}
                  onChange={(e) =>
                    setDone(
                      (now) => new Set(e.target.checked ? [...now, i] : [...now].filter((n) => n !== i)),
                    )
                  }
                />
              </li>
            ))}
          </ol>
          <div className="dump-tools">
            <Button variant="quiet" disabled={done.size === 0} onClick={() => setDone(new Set())}>
              Untick all
            </Button>
            <Button variant="quiet" onClick={() => setTyped(steps.join('\n'))}>
              <Pencil size={16} strokeWidth={1.75} aria-hidden="true" />
              Edit the steps
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

/** First words for the steps, as many boards have it. Common practice, no source. */
const usualSteps = (board: Board): string[] => [
  'Switch the board off',
  `Hold ${receiveKeys(board)
    .map((c) => c.name)
    .join(' and ')}`,
  'Switch it on, and hold on until its lamps blink',
  'Let go',
];
