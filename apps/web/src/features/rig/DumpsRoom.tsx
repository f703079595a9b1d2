import { Name, Remark, RequestText, whole, type RecordOf } from '@idle-step/contract';
import type { Device } from '@idle-step/core/gear';
import { hex } from '@idle-step/core/midi';
import type { FullRig } from '@idle-step/core/routing';
import { dumpDifferences, dumpShare, DUMP_LIMIT, sysexIn } from '@idle-step/core/transfer';
import { standInRequest } from '@idle-step/core/standins';
import { Download, Ear, FileUp, Send, Trash2 } from 'lucide-react';
import { useMemo, useState, useSyncExternalStore } from 'react';
import { Button, Form, ProgressBar } from 'react-bootstrap';
import { fromBase64, toBase64 } from '../../files/base64';
import { saveBytes } from '../../files/saveTextFile';
import { useFileChooser } from '../../files/useFileChooser';
import { useIsShown, useLiveHost } from '../../live/use/useLive';
import { NotKept } from '../../records/NotKept';
import type { RecordKeeper } from '../../records/recordKeeper';
import { useRecordKeeper, useRecords } from '../../records/useRecords';
import { NumberField, TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { Trouble } from '../../ui/Trouble';
import { useUndoNotice } from '../../ui/hooks/useUndoNotice';
import { counted } from '../../words/counted';
import { dayOf, timeOfDay } from '../../words/times';

type Dump = RecordOf<'dump'>;
const GapMs = whole('Pause', 0, 2000);

/** What a device has said of its memory: received, asked for, kept, compared, sent back, in and out of files. */
export function DumpsRoom({
  rig,
  device,
  onChange,
}: {
  rig: FullRig;
  device: Device;
  onChange(label: string, part: Partial<Device>): void;
}) {
  const { dumps } = useLiveHost();
  const now = useSyncExternalStore(dumps.subscribe, dumps.getSnapshot);
  const { records } = useRecords(rig.id, 'dump');
  const keeper = useRecordKeeper();
  const notice = useUndoNotice();
  const own = records.filter((r) => r.aboutId === device.id);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [gapMs, setGapMs] = useState(20);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isShown = useIsShown(rig.id);
  // Nothing is asked before the rig is played: its ports are found by it.
  const isBusy = !isShown || (now !== null && now.job.end === null);
  const chooser = useFileChooser(
    'Raw SysEx file',
    '.syx,application/octet-stream',
    (file) => void kept(keeper, rig.id, device.id, file).then(setTrouble),
  );
  const forget = async (dump: Dump) => {
    const refused = await keeper.forget(dump);
    setTrouble(refused);
    if (refused !== null) return;
    setChosen((ids) => ids.filter((id) => id !== dump.id));
    notice.tell(`${dump.what.name} was deleted.`, () => {
      keeper.keep(dump);
      return Promise.resolve(null);
    });
  };
  const compared = chosen.flatMap((id) => own.find((r) => r.id === id) ?? []);
  return (
    <section className="dumps-room" aria-label="Dumps">
      <DumpTools
        rig={rig}
        device={device}
        isBusy={isBusy}
        onTrouble={setTrouble}
        onOpen={chooser.choose}
        onChange={(dumpRequest) => onChange('say how a dump is asked for', { dumpRequest })}
      />
      {chooser.input}
      {now?.purpose === 'dump' && <Running rig={rig} now={now} />}
      <NotKept />
      <Trouble>{trouble}</Trouble>
      {own.length === 0 ? (
        <p className="muted">
          No dump of {device.name} is kept yet. Press Receive and send one from the device, ask it, or open a
          file.
        </p>
      ) : (
        <>
          <div className="dump-tools">
            <NumberField
              label="Pause between messages, ms"
              className="packet-pause"
              value={gapMs}
              schema={GapMs}
              onCommit={setGapMs}
            />
            <span className="muted">Tick two to compare them.</span>
          </div>
          <ul className="dump-list">
            {own.map((dump) => (
              <DumpLine
                key={dump.id}
                dump={dump}
                isChosen={chosen.includes(dump.id)}
                isBusy={isBusy}
                onChoose={(isOn) =>
                  setChosen((ids) =>
                    isOn ? [...ids, dump.id].slice(-2) : ids.filter((id) => id !== dump.id),
                  )
                }
                onSend={() => setTrouble(dumps.send(device.id, fromBase64(dump.what.bytes), gapMs))}
                onForget={() => void forget(dump)}
              />
            ))}
          </ul>
        </>
      )}
      {compared.length === 2 && <Compared first={compared[0]} second={compared[1]} />}
    </section>
  );
}

/** What a dump can be received, asked for or opened by. */
function DumpTools({
  rig,
  device,
  isBusy,
  onTrouble,
  onOpen,
  onChange,
}: {
  rig: FullRig;
  device: Device;
  isBusy: boolean;
  onTrouble(trouble: string | null): void;
  onOpen(): void;
  onChange(dumpRequest: string): void;
}) {
  const { dumps } = useLiveHost();
  const askable = rig.devices.filter((d) => d.dumpRequest !== '' && !d.away);
  return (
    <div className="dump-tools">
      <Button variant="quiet" disabled={isBusy} onClick={() => onTrouble(dumps.listen(device.id))}>
        <Ear size={16} strokeWidth={1.75} aria-hidden="true" />
        Receive
      </Button>
      <Button
        variant="quiet"
        disabled={isBusy || device.dumpRequest === ''}
        onClick={() => onTrouble(dumps.ask([device.id]))}
      >
        Ask {device.name}
      </Button>
      <Button
        variant="quiet"
        disabled={isBusy || askable.length === 0}
        onClick={() => onTrouble(dumps.ask(askable.map((d) => d.id)))}
      >
        Back up the rig: ask {counted(askable.length, 'device')}
      </Button>
      <Button variant="quiet" onClick={onOpen}>
        <FileUp size={16} strokeWidth={1.75} aria-hidden="true" />
        Open a .syx file
      </Button>
      <TextField
        label="Dump request, bytes"
        placeholder="F0 … F7"
        value={device.dumpRequest}
        schema={RequestText}
        onCommit={onChange}
      />
      {device.standIn && device.dumpRequest === '' && (
        <Button variant="bare" onClick={() => onChange(hex([0xf0, ...standInRequest(device.channel), 0xf7]))}>
          That of its stand-in
        </Button>
      )}
    </div>
  );
}

/** Keeps a file of raw SysEx as a dump. @returns why it was not kept, or `null`. */
async function kept(
  keeper: RecordKeeper,
  rigId: string,
  aboutId: string,
  file: File,
): Promise<string | null> {
  if (file.size > DUMP_LIMIT)
    return `${file.name} has ${file.size} bytes; at most ${DUMP_LIMIT} are kept as one dump.`;
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { error } = sysexIn(bytes);
  if (error !== null) return `${file.name} was not read: ${error}`;
  const what = { kind: 'dump', name: file.name.slice(0, 80), remark: '', bytes: toBase64(bytes) } as const;
  keeper.keep({ id: crypto.randomUUID(), rigId, aboutId, at: new Date().toISOString(), what });
  return null;
}

const ENDS = {
  done: 'done',
  'no-answer': 'did not answer',
  cancelled: 'cancelled',
  'too-large': 'sent more than 2 MB; nothing was kept',
  'port-gone': 'no open port leads there now; plug it in, open its port in Rig, and do it again',
} as const;

/** What is on its way, and how a round ended. */
function Running({
  rig,
  now,
}: {
  rig: FullRig;
  now: NonNullable<ReturnType<ReturnType<typeof useLiveHost>['dumps']['getSnapshot']>>;
}) {
  const { dumps } = useLiveHost();
  const { job, deviceId, ended, next } = now;
  const nameOf = (id: string) => rig.devices.find((d) => d.id === id)?.name ?? 'a device that is gone';
  const share = dumpShare(job);
  const words =
    job.kind === 'send'
      ? `Sending to ${nameOf(deviceId)}: ${job.sent} of ${counted(job.messages.length, 'message')}`
      : `${job.kind === 'ask' ? 'Asked' : 'Listening to'} ${nameOf(deviceId)}: ${counted(job.came.length, 'message')}, ${counted(job.size, 'byte')} so far`;
  return (
    <div className="notice dump-running">
      {job.end === null ? (
        <>
          {share !== null && <ProgressBar now={share * 100} aria-label="Sending" />}
          <span role="status">
            {words}
            {next.length > 0 && `; then ${next.map(nameOf).join(', ')}`}
          </span>
          {job.kind !== 'send' && (
            <Button variant="go" disabled={job.size === 0} onClick={() => dumps.stop()}>
              That is all: keep it
            </Button>
          )}
          <Button variant="quiet" onClick={() => dumps.cancel()}>
            Cancel
          </Button>
        </>
      ) : (
        <>
          <span role="status">
            {ended.map((e) => `${nameOf(e.deviceId)}: ${e.refusal ?? ENDS[e.end]}`).join('; ')}
          </span>
          <Button variant="quiet" onClick={() => dumps.setAside()}>
            Close
          </Button>
        </>
      )}
    </div>
  );
}

function DumpLine({
  dump,
  isChosen,
  isBusy,
  onChoose,
  onSend,
  onForget,
}: {
  dump: Dump;
  isChosen: boolean;
  isBusy: boolean;
  onChoose(isOn: boolean): void;
  onSend(): void;
  onForget(): void;
}) {
  const keeper = useRecordKeeper();
  const bytes = useMemo(() => fromBase64(dump.what.bytes), [dump.what.bytes]);
  const change = (part: Partial<Dump['what']>) => keeper.keep({ ...dump, what: { ...dump.what, ...part } });
  return (
    <li>
      <Form.Check
        aria-label={`Compare ${dump.what.name}`}
        checked={isChosen}
        onChange={(e) => onChoose(e.target.checked)}
      />
      <TextField
        hideLabel
        label={`Name of ${dump.what.name}`}
        value={dump.what.name}
        schema={Name}
        onCommit={(name) => change({ name })}
      />
      <span className="muted num">
        {dayOf(dump.at)} {timeOfDay(dump.at)}, {counted(bytes.length, 'byte')}
      </span>
      <TextField
        hideLabel
        label={`Remark of ${dump.what.name}`}
        placeholder="remark"
        value={dump.what.remark}
        schema={Remark}
        onCommit={(remark) => change({ remark })}
      />
      <IconButton icon={Send} label={`Send ${dump.what.name} back`} disabled={isBusy} onClick={onSend} />
      <IconButton
        icon={Download}
        label={`Save ${dump.what.name} as a file`}
        onClick={() => saveBytes(`${dump.what.name}.syx`, 'application/octet-stream', new Uint8Array(bytes))}
      />
      <IconButton icon={Trash2} label={`Delete ${dump.what.name}`} onClick={onForget} />
    </li>
  );
}

const LINES_SHOWN = 200;

/** Two dumps side by side, where they differ. */
function Compared({ first, second }: { first: Dump | undefined; second: Dump | undefined }) {
  const { lines, count } = useMemo(
    () => dumpDifferences(fromBase64(first?.what.bytes ?? ''), fromBase64(second?.what.bytes ?? '')),
    [first, second],
  );
  if (!first || !second) return null;
  const side = (bytes: readonly number[], differing: readonly number[]) =>
    bytes.map((byte, i) => (
      <span key={i} className={differing.includes(i) ? 'differs' : undefined}>
        {hex([byte])}{' '}
      </span>
    ));
  return (
    <section aria-label="Compared">
      <p role="status">
        {count === 0
          ? 'They are the same, byte by byte.'
          : `${counted(count, 'byte')} differ${count === 1 ? 's' : ''}.`}
      </p>
      {count > 0 && (
        <div className="preset-scroll" role="region" aria-label="Bytes side by side" tabIndex={0}>
          <table className="sends-list dump-bytes">
            <thead>
              <tr>
                <th scope="col">Byte</th>
                <th scope="col">{first.what.name}</th>
                <th scope="col">{second.what.name}</th>
              </tr>
            </thead>
            <tbody>
              {lines.slice(0, LINES_SHOWN).map((line) => (
                <tr key={line.at}>
                  <td className="num">{line.at + 1}</td>
                  <td className="num">{side(line.first, line.differing)}</td>
                  <td className="num">{side(line.second, line.differing)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {lines.length > LINES_SHOWN && <p className="muted">and {lines.length - LINES_SHOWN} lines more</p>}
        </div>
      )}
    </section>
  );
}
