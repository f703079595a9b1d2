import type { Board, Preset } from '@idle-step/core/floor';
import { jobProgress, stageOf, type JobKind } from '@idle-step/core/transfer';
import { Download, Eye, HardDriveDownload, Send, X } from 'lucide-react';
import { useState } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { whole } from '@idle-step/contract';
import { useLiveHost } from '../../../live/use/useLive';
import type { LinkRun } from '../../../live/link/BoardLink';
import { lasting } from '../../../storage/keptTexts';
import { NumberField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { endWords, STAGE_WORDS } from './stateWords';
import { useLink, type Memories } from './useMemory';

const GapMs = whole('Pause', 0, 1000);
const gapKey = (boardId: string): string => `idle-step.packet-pause.${boardId}`;

/** Sends, reads back, stores, and says how far it is. */
export function TransferPanel({
  board,
  preset,
  memories,
  name,
}: {
  board: Board;
  preset: Preset;
  memories: Memories;
  name: string;
}) {
  const { link } = useLiveHost();
  const { run } = useLink();
  const [refusal, setRefusal] = useState<string | null>(null);
  const [isAsking, setAsking] = useState(false);
  const [gapMs, setGapMs] = useState(() => Number(lasting.store.getItem(gapKey(board.id)) ?? 0) || 0);
  const isRunning = run !== null && run.job.end === null;
  const own = run?.boardId === board.id ? run : null;
  const { sent } = memories.record;
  const inBoard = sent !== null && sent !== 'unknown' ? sent : null;
  const start = (kind: JobKind, what: { presetId: string | null; bytes: Uint8Array }) => {
    setAsking(false);
    setRefusal(link.start(kind, board.id, what, gapMs));
  };
  const nothing = { presetId: null, bytes: new Uint8Array() };
  return (
    <section className="transfer" aria-label="Transfer">
      <div className="transfer-buttons">
        <Button
          variant="go"
          disabled={isRunning}
          onClick={() => start('send', { presetId: preset.id, bytes: memories.bytes })}
        >
          <Send size={16} strokeWidth={1.75} aria-hidden="true" />
          Send and read back
        </Button>
        <Button variant="quiet" disabled={isRunning || !inBoard} onClick={() => setAsking(true)}>
          <HardDriveDownload size={16} strokeWidth={1.75} aria-hidden="true" />
          Store in the board
        </Button>
        <Button variant="quiet" disabled={isRunning} onClick={() => start('look', nothing)}>
          <Eye size={16} strokeWidth={1.75} aria-hidden="true" />
          See what is in it
        </Button>
        <Button variant="quiet" disabled={isRunning} onClick={() => start('read', nothing)}>
          <Download size={16} strokeWidth={1.75} aria-hidden="true" />
          Read it
        </Button>
        <NumberField
          label="Packet pause, ms"
          className="packet-pause"
          value={gapMs}
          schema={GapMs}
          onCommit={(ms) => {
            setGapMs(ms);
            lasting.store.setItem(gapKey(board.id), String(ms));
          }}
        />
      </div>
      {isAsking && inBoard && (
        <div className="notice" role="alertdialog" aria-label="Store in the board">
          <p>
            Store what was sent? What {name} keeps until now is lost
            {memories.sent.kind === 'other' ? ', and what was sent differs from what is here' : ''}.
          </p>
          <Button
            variant="go"
            autoFocus
            onClick={() => start('store', { presetId: inBoard.presetId, bytes: inBoard.bytes })}
          >
            Store it
          </Button>
          <Button variant="quiet" onClick={() => setAsking(false)}>
            Not now
          </Button>
        </div>
      )}
      {own && isRunning && <Running run={own} onCancel={() => link.cancel()} now={link.clock()} />}
      {own?.job.end && !refusal && !isAsking && (
        <p className={`notice ${own.job.end === 'done' ? '' : 'danger'}`} role="status">
          {endWords(own.job.kind, own.job.end, name)}
          <IconButton icon={X} label="Close" onClick={() => link.setAside()} />
        </p>
      )}
      {refusal && (
        <p className="field-error" role="alert">
          {refusal} <Link to={`/rig/${board.deviceId}/ports`}>Its ports and cables</Link>
        </p>
      )}
    </section>
  );
}

/** How far a job is and how long it takes yet. */
function Running({ run, now, onCancel }: { run: LinkRun; now: number; onCancel(): void }) {
  const { share, leftMs } = jobProgress(run.job, now);
  const stage = stageOf(run.job);
  const percent = Math.round(share * 100);
  const left = leftMs === null ? '' : `, ${(leftMs / 1000).toFixed(1)} s yet`;
  const words = stage === null ? '' : `${STAGE_WORDS[stage]}: ${percent} %${left}`;
  return (
    <div className="transfer-running">
      <ProgressBar now={percent} aria-label={stage === null ? 'Transfer' : STAGE_WORDS[stage]} />
      <span className="num" role="status">
        {words}
      </span>
      <Button variant="quiet" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}
