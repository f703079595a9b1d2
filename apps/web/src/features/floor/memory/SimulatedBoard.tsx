import { readMemory, receiveKeys, type MemoryBoard } from '@idle-step/core/memory';
import { bankInForce } from '@idle-step/core/engine';
import { isPressed, type Board } from '@idle-step/core/floor';
import { describeMessage, type Message, type MiddleC } from '@idle-step/core/midi';
import { crc32 } from '@idle-step/core/transfer';
import { Power } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { whole } from '@idle-step/contract';
import { useLiveHost } from '../../../live/use/useLive';
import { NumberField } from '../../../ui/Fields';
import { useLink } from './useMemory';

/** A board in place of the real one, to try all this without it. */
export function SimulatedBoard({ board, name, middleC }: { board: Board; name: string; middleC: MiddleC }) {
  const { link } = useLiveHost();
  const { boards, sent } = useLink();
  const standIn = boards.get(board.id);
  return (
    <section className="simulated-board" aria-label={`Stand-in of ${name}`}>
      <h2>Stand-in</h2>
      <Form.Check
        type="switch"
        id={`simulated-${board.id}`}
        label={`A stand-in takes the place of ${name}`}
        checked={standIn !== undefined}
        onChange={(e) => link.simulate(board.id, e.target.checked)}
      />
      {standIn && <Panel board={standIn} sent={sent.get(board.id) ?? []} middleC={middleC} />}
    </section>
  );
}

const POWER_WORDS = {
  off: 'switched off',
  playing: 'plays by what it keeps',
  receiving: 'ready to receive; it plays nothing now',
} as const;

function Panel({ board, sent, middleC }: { board: MemoryBoard; sent: readonly Message[]; middleC: MiddleC }) {
  const { link } = useLiveHost();
  const [held, setHeld] = useState<ReadonlySet<string>>(new Set());
  const { hardware, power } = board;
  const now = () => link.clock();
  const keys = receiveKeys(hardware);
  const press = (controlId: string, isDown: boolean) => {
    if (power === 'playing')
      link.atBoard(hardware.id, {
        kind: 'foot',
        atMs: now(),
        command: { kind: 'switch', controlId, velocity: isDown ? 127 : 0 },
      });
  };
  const bank = board.play && bankName(board);
  return (
    <div className="simulated-panel">
      <p className="simulated-power">
        <Button
          variant="quiet"
          aria-pressed={power !== 'off'}
          onClick={() =>
            link.atBoard(hardware.id, { kind: 'power', atMs: now(), on: power === 'off', held: [...held] })
          }
        >
          <Power size={16} strokeWidth={2} aria-hidden="true" />
          {power === 'off' ? 'Switch on' : 'Switch off'}
        </Button>
        <strong role="status">{POWER_WORDS[power]}</strong>
        {bank && <span className="muted">{bank}</span>}
      </p>
      <div className="simulated-keys" role="group" aria-label="Its switches and pedals">
        {hardware.controls.map((c) =>
          isPressed(c.kind) ? (
            <Button
              key={c.id}
              variant="quiet"
              aria-pressed={power === 'off' ? held.has(c.id) : undefined}
              onPointerDown={() => press(c.id, true)}
              onPointerUp={() => press(c.id, false)}
              onPointerLeave={(e) => e.buttons > 0 && press(c.id, false)}
              onKeyDown={(e) => e.key === ' ' && !e.repeat && press(c.id, true)}
              onKeyUp={(e) => e.key === ' ' && press(c.id, false)}
              onClick={() =>
                power === 'off' &&
                setHeld(
                  (all) => new Set(all.has(c.id) ? [...all].filter((id) => id !== c.id) : [...all, c.id]),
                )
              }
            >
              {c.name}
            </Button>
          ) : (
            <Form.Label key={c.id} className="simulated-pedal">
              {c.name}
              <Form.Range
                min={0}
                max={127}
                defaultValue={0}
                disabled={power !== 'playing'}
                onChange={(e) =>
                  link.atBoard(hardware.id, {
                    kind: 'foot',
                    atMs: now(),
                    command: { kind: 'move', controlId: c.id, travel: Number(e.target.value) },
                  })
                }
              />
            </Form.Label>
          ),
        )}
      </div>
      {power === 'off' && (
        <p className="small muted">
          While it is off a press holds a switch down. With {keys.map((k) => k.name).join(' and ')} held it is
          ready to receive when it is switched on.
        </p>
      )}
      <dl className="simulated-memory">
        <dt>Plays by</dt>
        <dd>{memoryWords(board.working)}</dd>
        <dt>Keeps</dt>
        <dd>{memoryWords(board.stored)}</dd>
        <dt>Sent last</dt>
        <dd className="num">
          {sent.length === 0
            ? 'nothing yet'
            : sent.slice(0, 4).map((m, i) => <div key={i}>{describeMessage(m, middleC)}</div>)}
        </dd>
      </dl>
      <Faults board={board} />
    </div>
  );
}

const Percent = whole('Share', 0, 50);
const SlowMs = whole('Time', 0, 2000);

/** What goes wrong on its cables, to see what this application does of it. */
function Faults({ board: { hardware, faults } }: { board: MemoryBoard }) {
  const { link } = useLiveHost();
  const set = (change: Partial<typeof faults>) => link.setFaults(hardware.id, { ...faults, ...change });
  return (
    <details>
      <summary>A bad cable, a slow board</summary>
      <div className="fields-row">
        <NumberField
          label="Lost, %"
          className="narrow"
          value={Math.round(faults.lost * 100)}
          schema={Percent}
          onCommit={(p) => set({ lost: p / 100 })}
        />
        <NumberField
          label="Damaged, %"
          className="narrow"
          value={Math.round(faults.damaged * 100)}
          schema={Percent}
          onCommit={(p) => set({ damaged: p / 100 })}
        />
        <NumberField
          label="Thinks for, ms"
          className="narrow"
          value={faults.slowMs}
          schema={SlowMs}
          onCommit={(slowMs) => set({ slowMs })}
        />
      </div>
    </details>
  );
}

function bankName({ play }: MemoryBoard): string {
  const board = play?.world.boards[0];
  const bank = play && board ? bankInForce(board, play.state) : null;
  return bank ? `bank ${bank.bank.name}` : '';
}

function memoryWords(bytes: Uint8Array | null): string {
  if (!bytes) return 'nothing';
  const read = readMemory(bytes);
  const sum = crc32(bytes).toString(16).toUpperCase().padStart(8, '0');
  return `${read.ok ? read.value.name : 'something that cannot be read'}, ${bytes.length} bytes, CRC ${sum}`;
}
