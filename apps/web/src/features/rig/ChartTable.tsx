import type { DeviceDoc, RigDoc } from '@idle-step/contract';
import { isReservedByStandard, CONTROLLER } from '@idle-step/core/midi';
import { Lock, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { IconButton } from '../../ui/IconButton';
import { TapeMark } from '../../ui/TapeMark';
import { FunctionEditor } from './FunctionEditor';
import { driveWords, exampleBytes, rangeWords } from './chartWords';

type FunctionDoc = DeviceDoc['chart'][number];

/** What a device answers to, one function a row; the row in hand is edited below it. */
export function ChartTable({ rig, device }: { rig: RigDoc; device: DeviceDoc }) {
  const edit = useEdit('rigs');
  const [openId, setOpenId] = useState<string | null>(null);
  if (device.role === 'carrier') return null;
  const setChart = (label: string, change: (chart: readonly FunctionDoc[]) => FunctionDoc[]) =>
    edit(rig.id, label, (r) => ({
      ...r,
      devices: r.devices.map((d) => (d.id === device.id ? { ...d, chart: change(d.chart) } : d)),
    }));
  const add = () => {
    const fn = newFunction(device);
    setChart('add a function', (chart) => [...chart, fn]);
    setOpenId(fn.id);
  };
  return (
    <section className="chart" aria-label={`Implementation chart of ${device.name}`}>
      <div className="place-head">
        <TapeMark mark={device.mark} size={18} />
        <h2>Implementation chart of {device.name}</h2>
        <span className="muted">
          channel {device.channel + 1}, {device.chart.length} functions
        </span>
        <span className="gap" />
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Function
        </Button>
      </div>
      {device.chart.length === 0 ? (
        <p className="muted py-2">
          Nothing written down yet. A function is one thing that this device answers to, such as “Snapshot, CC
          22, 0 to 7”.
        </p>
      ) : (
        <table className="chart-table">
          <thead>
            <tr>
              <th>Function</th>
              <th>Message</th>
              <th>Takes</th>
              <th>Highest, in bytes</th>
              <th className="text-end">Settles in</th>
              <th>
                <span className="visually-hidden">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {device.chart.map((fn) => (
              <FunctionRow
                key={fn.id}
                rig={rig}
                device={device}
                fn={fn}
                isOpen={fn.id === openId}
                onOpen={() => setOpenId(fn.id === openId ? null : fn.id)}
                onChange={(next) =>
                  setChart(`change ${fn.name}`, (chart) => chart.map((f) => (f.id === fn.id ? next : f)))
                }
                onRemove={() => setChart(`remove ${fn.name}`, (chart) => chart.filter((f) => f.id !== fn.id))}
              />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

type RowProps = {
  rig: RigDoc;
  device: DeviceDoc;
  fn: FunctionDoc;
  isOpen: boolean;
  onOpen(): void;
  onChange(fn: FunctionDoc): void;
  onRemove(): void;
};

function FunctionRow({ rig, device, fn, isOpen, onOpen, onChange, onRemove }: RowProps) {
  const reserved = fn.drive.kind === 'controller' && isReservedByStandard(fn.drive.controller);
  return (
    <>
      <tr className={isOpen ? 'open' : ''}>
        <th scope="row">
          <button type="button" className="row-open" aria-expanded={isOpen} onClick={onOpen}>
            {fn.name}
          </button>
        </th>
        <td className="bytes">
          {driveWords(fn, rig.middleC)}
          {fn.channel !== null && <span className="muted"> ch {fn.channel + 1}</span>}
          {reserved && (
            <span className="reserved" title="The MIDI standard keeps this number for itself">
              <Lock size={13} aria-hidden="true" /> kept by the standard
            </span>
          )}
        </td>
        <td className="bytes">{rangeWords(device, fn)}</td>
        <td className="bytes muted">{exampleBytes(device, fn)}</td>
        <td className="bytes text-end">{fn.settleMs} ms</td>
        <td className="text-end">
          <IconButton icon={X} label={`Remove ${fn.name}`} onClick={onRemove} />
        </td>
      </tr>
      {isOpen && (
        <tr className="open editor-row">
          <td colSpan={6}>
            <FunctionEditor device={device} fn={fn} onChange={onChange} />
          </td>
        </tr>
      )}
    </>
  );
}

/** A switch on the lowest controller that nothing uses or reserves, from the undefined ones at 20 up. */
function newFunction(device: DeviceDoc): FunctionDoc {
  const used = new Set(
    device.chart.flatMap((f) => (f.drive.kind === 'controller' ? f.drive.controller : [])),
  );
  const numbers = Array.from({ length: 128 }, (_, i) => (i + 20) % 128);
  const controller = numbers.find((n) => !used.has(n) && !isReservedByStandard(n)) ?? CONTROLLER.volume;
  const names = new Set(device.chart.map((f) => f.name));
  let name = `Controller ${controller}`;
  for (let i = 2; names.has(name); i++) name = `Controller ${controller} (${i})`;
  return {
    id: crypto.randomUUID(),
    name,
    drive: { kind: 'controller', controller },
    shape: { kind: 'switch', off: 0, on: 127 },
    channel: null,
    arms: null,
    settleMs: 0,
  };
}
