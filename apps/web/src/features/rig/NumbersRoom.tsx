import type { FullRig } from '@idle-step/core/routing';
import {
  type Device,
  nextFree,
  numbersOfChannel,
  numbersOfDevice,
  withNumberKept,
  type NumberUse,
} from '@idle-step/core/gear';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Pick, TypedField } from '../../ui/Fields';
import { nth } from '@idle-step/core/sure';

const STATE_WORDS: Record<NumberUse['state'], string> = {
  'in-use': 'in use',
  'kept-by-device': 'kept by the device',
  'kept-by-standard': 'kept by the standard',
  free: 'free',
};
const OF_DEVICE = -1;

/** Which controller numbers are in use, kept or free, for a device or for a whole channel of the rig. */
export function NumbersRoom({
  rig,
  device,
  onAdd,
  onKeep,
}: {
  rig: FullRig;
  device: Device;
  onAdd(controller: number): void;
  /** The device keeps other numbers for its own hardware than before. */
  onKeep(ranges: Device['keptNumbers']): void;
}) {
  const [channel, setChannel] = useState(OF_DEVICE);
  const [picked, setPicked] = useState<number | null>(null);
  const numbers = channel === OF_DEVICE ? numbersOfDevice(device) : numbersOfChannel(rig, channel);
  const shown = picked === null ? nextFree(numbers) : picked;
  const use = shown === null ? null : nth(numbers, shown);
  const suggested = nextFree(numbers);
  const move = (by: number) => setPicked(Math.min(127, Math.max(0, (shown ?? 0) + by)));
  const count = (state: NumberUse['state']) => numbers.filter((n) => n.state === state).length;
  return (
    <section aria-label={`Controller numbers of ${device.name}`}>
      <div className="place-head">
        <Pick
          label="Numbers of"
          className="inline-pick"
          value={channel}
          options={[
            { value: OF_DEVICE, text: device.name },
            ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: `channel ${i + 1}, all devices` })),
          ]}
          onPick={(c) => setChannel(Number(c))}
        />
        <span className="muted small">
          {count('in-use')} in use, {count('kept-by-device')} kept by{' '}
          {channel === OF_DEVICE ? 'the device' : 'devices'}, {count('kept-by-standard')} kept by the
          standard, {count('free')} free
        </span>
        <span className="gap" />
        {suggested !== null && (
          <Button variant="quiet" onClick={() => onAdd(suggested)}>
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Function on CC {suggested}, the next free one
          </Button>
        )}
      </div>
      <div
        className="number-grid"
        role="listbox"
        aria-label="Controllers 0 to 127"
        tabIndex={0}
        aria-activedescendant={shown === null ? undefined : `number-${shown}`}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -16, ArrowDown: 16 }[e.key];
          if (by === undefined) return;
          e.preventDefault();
          move(by);
        }}
      >
        {numbers.map((n) => (
          <span
            key={n.number}
            id={`number-${n.number}`}
            role="option"
            aria-selected={n.number === shown}
            aria-label={`CC ${n.number}, ${STATE_WORDS[n.state]}`}
            className={`number ${n.state} ${n.number === shown ? 'picked' : ''}`}
            onClick={() => setPicked(n.number)}
          >
            {n.number}
          </span>
        ))}
      </div>
      {channel === OF_DEVICE && (
        <TypedField
          label={`Kept by ${device.name} for itself`}
          placeholder="for example 14 to 31, 102"
          shown={keptText(device.keptNumbers)}
          parse={parseKept}
          onCommit={onKeep}
        />
      )}
      {use && (
        <p className="number-words">
          <b>CC {use.number}</b> is {STATE_WORDS[use.state]}
          {use.standardName ? `, in the standard ${use.standardName}` : ', undefined in the standard'}
          {use.by.length > 0 && `: ${use.by.map((u) => `${u.device.name} ${u.fn.name}`).join(', ')}`}
          {channel === OF_DEVICE && use.by.length === 0 && use.state !== 'kept-by-standard' && (
            <Button
              variant="bare"
              onClick={() =>
                onKeep(withNumberKept(device.keptNumbers, use.number, use.state !== 'kept-by-device'))
              }
            >
              {use.state === 'kept-by-device' ? 'It is free' : `${device.name} keeps it for itself`}
            </Button>
          )}
          {use.state === 'free' && use.number !== suggested && (
            <Button variant="bare" onClick={() => onAdd(use.number)}>
              Use it for a new function
            </Button>
          )}
        </p>
      )}
    </section>
  );
}

/** Example: `14 to 31, 102`. */
const keptText = (ranges: Device['keptNumbers']): string =>
  ranges.map(({ from, to }) => (from === to ? String(from) : `${from} to ${to}`)).join(', ');

function parseKept(text: string): { value: Device['keptNumbers']; error?: undefined } | { error: string } {
  const ranges: Device['keptNumbers'][number][] = [];
  for (const piece of text.split(/[,;]/).map((p) => p.trim())) {
    if (piece === '') continue;
    const ends = /^(\d{1,3})(?:\s*(?:-|–|to)\s*(\d{1,3}))?$/.exec(piece);
    const [from, to] = [Number(ends?.[1]), Number(ends?.[2] ?? ends?.[1])];
    if (!ends || from > to || to > 127)
      return { error: `“${piece}” is no range of controllers; 14 to 31 or 102 would be right.` };
    ranges.push({ from, to });
  }
  return { value: ranges };
}
