import { rowHeard, type HeardRow } from '@idle-step/core/floor';
import type { ChartFunction, Device } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import { driveText } from '@idle-step/core/formats';
import { STAND_INS } from '@idle-step/core/standins';
import { identityReply, identityText, readIdentityReply } from '@idle-step/core/transfer';
import { keysOf } from '@idle-step/core/sure';
import { Name } from '@idle-step/contract';
import { Ear, IdCard, X } from 'lucide-react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useRig } from '../../../drafts/useDocs';
import { newRow } from '../../../edits/chartEdits';
import { useIsShown, useLiveHost, useLiveOf, useWorld } from '../../../live/use/useLive';
import { IconButton } from '../../../ui/IconButton';
import { counted } from '../../../words/counted';

type Props = {
  rig: FullRig;
  device: Device;
  onChange(label: string, part: Partial<Device>): void;
};

/** A chart by asking: who a device is, and the chart that is written down of another one like it. */
export function ChartByIdentity({ rig, device, onChange }: Props) {
  const { dumps } = useLiveHost();
  const now = useSyncExternalStore(dumps.subscribe, dumps.getSnapshot);
  const [trouble, setTrouble] = useState<string | null>(null);
  const offers = useOffers(rig, device);
  const own = now?.purpose === 'identity' && now.deviceId === device.id ? now : null;
  const reply = own?.job.end === 'done' ? readIdentityReply(own.job.came[0] ?? []) : null;
  const text = reply && identityText(reply);
  useEffect(() => {
    if (text !== null && text !== device.identity) onChange('learn who a device is', { identity: text });
  }, [text, device.identity, onChange]);
  const take = (rows: readonly ChartFunction[]) => {
    const names = new Set(device.chart.map((fn) => fn.name.toLowerCase()));
    const added = rows.filter((fn) => !names.has(fn.name.toLowerCase()));
    onChange('take a chart', {
      chart: [...device.chart, ...added.map((fn) => ({ ...fn, id: crypto.randomUUID() }))],
    });
  };
  const isAsking = own !== null && own.job.end === null;
  // Nobody is asked before the rig is played: its ports are found by it.
  const isShown = useIsShown(rig.id);
  const said =
    trouble ??
    (own?.job.end === 'port-gone'
      ? 'No open port leads to it: open its port under Ports, and ask again.'
      : own?.job.end === 'no-answer'
        ? 'It did not answer. Many devices do not; learn its chart by moving, or write it down.'
        : own?.job.end === 'done' && device.identity !== ''
          ? identityWords(device.identity)
          : null);
  return (
    <>
      <IconButton
        icon={IdCard}
        label={isAsking ? 'Asking …' : 'Ask who it is'}
        disabled={isAsking || !isShown}
        onClick={() => setTrouble(dumps.identify(device.id))}
      />
      {said !== null && (
        <section className="chart-identity" aria-label="Who it is">
          <span
            role={trouble === null ? 'status' : 'alert'}
            className={trouble === null ? '' : 'field-error'}
          >
            {said}
          </span>
          {own?.job.end === 'done' &&
            offers.map((offer) => (
              <Button key={offer.name} variant="quiet" onClick={() => take(offer.chart)}>
                Take the chart of {offer.name}: {counted(offer.chart.length, 'row')}
              </Button>
            ))}
          {own?.job.end === 'done' && offers.length === 0 && (
            <span className="muted">
              No other chart is known for this kind; this one is offered wherever another of the kind is
              asked.
            </span>
          )}
        </section>
      )}
    </>
  );
}

const identityWords = (identity: string): string => {
  const [maker, family, member] = identity.split(' ');
  return `Maker ${maker}, family ${family}, member ${member}.`;
};

/** Charts of devices of the same kind, in all rigs, and that which a stand-in comes with. */
function useOffers(
  rig: FullRig,
  device: Device,
): readonly { name: string; chart: readonly ChartFunction[] }[] {
  const { rigs } = useRig();
  if (device.identity === '') return [];
  const others = rigs.flatMap((r) =>
    r.devices
      .filter((d) => d.id !== device.id && d.identity === device.identity && d.chart.length > 0)
      .map((d) => ({ name: r.id === rig.id ? d.name : `${d.name} in ${r.name}`, chart: d.chart })),
  );
  const kinds = keysOf(STAND_INS);
  const kind = kinds.find((_, i) => standInIdentity(i) === device.identity);
  if (!kind) return others;
  const rows = STAND_INS[kind].chart.map((row, i): ChartFunction => ({ ...row, id: `${kind} ${i}` }));
  return [...others, { name: `the stand-in (${STAND_INS[kind].title.toLowerCase()})`, chart: rows }];
}

/** As `core/standins/answers.ts` says it. */
const standInIdentity = (at: number): string => {
  const reply = identityReply({
    device: 0,
    manufacturer: [0x7d],
    family: 0x0a00,
    member: at + 1,
    version: [0, 0, 0, 1],
  });
  const read = readIdentityReply(reply);
  return read ? identityText(read) : '';
};

/** A chart by moving each thing of a device once, and saying what it is. */
export function ChartByMoving({ rig, device, onChange, onClose }: Props & { onClose(): void }) {
  const host = useLiveHost();
  const world = useWorld();
  const heard = useLiveOf((live) => live.heard);
  const [name, setName] = useState('');
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => {
    host.learn(true);
    return () => host.learn(false);
  }, [host]);
  const back = world.backs.get(device.id) ?? null;
  const row = rowHeard(heard ?? [], back);
  const known = row && device.chart.find((fn) => JSON.stringify(fn.drive) === JSON.stringify(row.drive));
  const add = () => {
    if (!row || known) return;
    const parsed = Name.safeParse(name);
    if (!parsed.success) {
      setSaid(parsed.error.issues[0]?.message ?? null);
      return;
    }
    if (device.chart.some((fn) => fn.name.toLowerCase() === parsed.data.toLowerCase())) {
      setSaid(`${parsed.data} is in the chart already: call it something else.`);
      return;
    }
    const channel = row.channel === device.channel ? null : row.channel;
    const fn = { ...newRow(device, row.drive), name: parsed.data, shape: row.shape, channel };
    onChange('learn a row of a chart', { chart: [...device.chart, fn] });
    setSaid(`${parsed.data} is in the chart. Move the next thing.`);
    setName('');
    host.learn(true);
  };
  return (
    <section className="notice chart-moving" aria-label="Learn by moving">
      <Ear size={18} aria-hidden="true" />
      <span role="status">
        {row
          ? known
            ? `That is ${known.name} already. Move the next thing.`
            : `${movedWords(row, rig)}. What is it?`
          : (said ?? `Move one thing of ${device.name} from end to end, or press it.`)}
      </span>
      {row && !known && (
        <Form
          onSubmit={(e) => {
            e.preventDefault();
            add();
          }}
        >
          <Form.Control
            aria-label="This is"
            placeholder="this is …"
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Button type="submit" variant="go">
            Add
          </Button>
        </Form>
      )}
      {row && said && !known && <span className="muted">{said}</span>}
      <IconButton icon={X} label="Stop learning" onClick={onClose} />
    </section>
  );
}

const movedWords = ({ drive, shape, channel, count }: HeardRow, rig: FullRig): string =>
  `${driveText(drive, rig.middleC)}, channel ${channel + 1}, a ${shape.kind}, ${counted(count, 'message')}`;
