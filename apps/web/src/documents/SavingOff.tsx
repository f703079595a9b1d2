import { CloudOff } from 'lucide-react';
import { HEALTH_EVERY_MS, useHealthQuery } from '../api/api';
import { useAppSelector } from '../store';

/** Whether the server saves at the moment; asked for every few seconds and known from each failed save. */
export function useSavingIsOff(): boolean {
  const { isError } = useHealthQuery(undefined, { pollingInterval: HEALTH_EVERY_MS });
  const anyOffline = useAppSelector((s) =>
    Object.values(s.drafts.byKey).some((d) => d.status.kind === 'off'),
  );
  return isError || anyOffline;
}

/** Says so while the server does not answer. Playing goes on. */
export function SavingOff() {
  const isOff = useSavingIsOff();
  const unsaved = useAppSelector(
    (s) => Object.values(s.drafts.byKey).filter((d) => d.status.kind !== 'saved').length,
  );
  const why = useAppSelector((s) =>
    Object.values(s.drafts.byKey)
      .map((d) => (d.status.kind === 'off' ? d.status.why : null))
      .find((w) => w !== null),
  );
  if (!isOff) return null;
  return (
    <div className="notice danger" role="status" data-testid="saving-off">
      <CloudOff size={16} aria-hidden="true" />
      <p>
        <b>Saving is off:</b> {why ?? 'the server does not answer.'} Playing goes on.{' '}
        {unsaved > 0
          ? 'What you change stays in this window and is saved when the server is back; do not close it.'
          : 'What you change from now on stays in this window until the server is back.'}
      </p>
    </div>
  );
}
