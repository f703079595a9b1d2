import type { Backup, BackedUp, RigProgress } from '@idle-step/contract';
import { Archive } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router-dom';
import { useBackupsQuery, useMakeBackupMutation } from '../../api/api';
import { progressAt } from '../../api/progress';
import { failureOf } from '../../api/problem';
import { useRig } from '../../drafts/useDocs';
import { useWholeRigs } from '../../drafts/whole/useWholeRigs';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch } from '../../store';
import { counted } from '../../words/counted';
import { dayOf, timeOfDay } from '../../words/times';
import { Trouble } from '../../ui/Trouble';

/** Backups of all rigs: made daily and on request, looked at, and restored beside what is there. */
export function BackupsPlace() {
  const { data, isError, refetch } = useBackupsQuery();
  const [make, { isLoading: isMaking }] = useMakeBackupMutation();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [opened, setOpened] = useState<string | null>(null);
  const progress = useProgress(isMaking);
  const begin = async () => {
    setTrouble(null);
    const { error } = await make();
    if (error) setTrouble(sentenceOf(error));
  };
  const restore = useRestore(setTrouble);
  return (
    <div className="work-pad backups-place">
      <div className="place-head">
        <h1>Backups</h1>
        <span className="gap" />
        <Button
          variant="go"
          disabled={isMaking || restore.busy !== null || !data?.folder}
          onClick={() => void begin()}
        >
          <Archive size={16} strokeWidth={1.75} aria-hidden="true" />
          Back up everything now
        </Button>
        <Link className="btn btn-quiet" to="/rigs">
          Back to Rigs
        </Link>
      </div>
      <p className="muted place-line">
        {data?.folder
          ? `One is made by itself each day, and the last ${data.kept} of these are kept; those made by hand stay. They lie in ${data.folder}.`
          : data
            ? 'This server was started without a folder for backups: none are made. Save each rig as a file, under Rigs.'
            : isError
              ? 'The server does not answer, so its backups are not known.'
              : 'Fetching …'}
        {isError && (
          <Button variant="quiet" onClick={() => void refetch()}>
            Try again
          </Button>
        )}
      </p>
      {(isMaking || restore.busy !== null) && (
        <p className="notice" role="status">
          {restore.busy ??
            `Backing up${progress === null ? ' …' : `: ${progress.done} of ${progress.of} songs …`}`}
        </p>
      )}
      <Trouble>{trouble}</Trouble>
      {data?.folder && data.backups.length === 0 && <p>There is none yet.</p>}
      <ul className="rig-rows">
        {data?.backups.map((backup) => (
          <BackupRow
            key={backup.name}
            backup={backup}
            isOpen={opened === backup.name}
            isBusy={restore.busy !== null || isMaking}
            onOpen={() => setOpened(opened === backup.name ? null : backup.name)}
            onRestore={(rig) => void restore.go(backup, rig)}
          />
        ))}
      </ul>
    </div>
  );
}

const sentenceOf = (error: Parameters<typeof failureOf>[0]): string => {
  const failure = failureOf(error);
  return failure.kind === 'unreachable'
    ? 'The server does not answer, so no backup was made.'
    : failure.problem.detail;
};

const EVERY_MS = 500;

/** How far the backup on its way is. */
function useProgress(isMaking: boolean): RigProgress | null {
  const [progress, setProgress] = useState<RigProgress | null>(null);
  useEffect(() => {
    if (!isMaking) return;
    const timer = window.setInterval(() => {
      void progressAt('/api/backups/progress').then((now) => setProgress(now.of > 0 ? now : null));
    }, EVERY_MS);
    return () => {
      window.clearInterval(timer);
      setProgress(null);
    };
  }, [isMaking]);
  return progress;
}

/** A rig out of a backup becomes a rig of its own, so that nothing is overwritten. */
function useRestore(onTrouble: (sentence: string | null) => void) {
  const { rigs } = useRig();
  const whole = useWholeRigs();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [busy, setBusy] = useState<string | null>(null);
  const go = async (backup: Backup, rig: BackedUp) => {
    onTrouble(null);
    setBusy(`Reading ${rig.name} …`);
    try {
      const answer = await fetch(`/api/backups/${backup.name}/${rig.id}`);
      if (!answer.ok) throw new Error(String(answer.status));
      const file = await answer.blob();
      const wish = {
        file,
        name: rig.name,
        suffix: ` of ${dayOf(backup.at)}`,
        taken: rigs.map((r) => r.name),
      };
      const made = await whole.createFrom(wish, setBusy);
      if ('sentence' in made) onTrouble(made.sentence);
      else {
        dispatch(screenChanged({ rigId: made.id, setId: null }));
        void navigate('/rigs');
      }
    } catch {
      onTrouble('The server does not answer, or the backup is gone: nothing was restored.');
    }
    setBusy(null);
  };
  return { busy, go };
}

function BackupRow({
  backup,
  isOpen,
  isBusy,
  onOpen,
  onRestore,
}: {
  backup: Backup;
  isOpen: boolean;
  isBusy: boolean;
  onOpen(): void;
  onRestore(rig: BackedUp): void;
}) {
  return (
    <li className="backup">
      <strong>
        {dayOf(backup.at)}, {timeOfDay(backup.at)}
      </strong>
      <span className="muted">
        {backup.isByHand ? 'by hand' : 'by itself'}, {counted(backup.rigs.length, 'rig')}
      </span>
      <span className="gap" />
      <Button variant="quiet" aria-expanded={isOpen} onClick={onOpen}>
        Look inside
      </Button>
      {isOpen && (
        <ul className="backup-rigs">
          {backup.rigs.map((rig) => (
            <li key={rig.id}>
              <span>{rig.name}</span>
              <span className="muted">
                {counted(rig.songs, 'song')}, {counted(rig.sets, 'set')}, {counted(rig.presets, 'preset')},{' '}
                {(rig.bytes / 1_000_000).toFixed(1)} MB
              </span>
              <Button variant="quiet" disabled={isBusy} onClick={() => onRestore(rig)}>
                Restore beside what is here
              </Button>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
