import { Button } from 'react-bootstrap';
import { useUnkept } from './useRecords';

/** Says what the server has not kept of memories, dumps and line checks; nothing where it has them all. */
export function NotKept() {
  const { waiting, refused, dismiss } = useUnkept();
  return (
    <>
      {waiting > 0 && (
        <p className="notice" role="status">
          The server has not taken this yet; this browser keeps it and tells it again.
        </p>
      )}
      {refused !== null && (
        <p className="field-error d-flex gap-3 align-items-center" role="alert">
          The server did not keep this, so it is gone once the page is closed: {refused}
          <Button variant="quiet" onClick={dismiss}>
            Dismiss
          </Button>
        </p>
      )}
    </>
  );
}
