import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';
import { Button, Toast, ToastContainer } from 'react-bootstrap';
import { useSelector } from 'react-redux';
import { useLocation } from 'react-router-dom';

type Notice = {
  readonly text: string;
  readonly undo: (() => Promise<string | null>) | null;
  readonly isPossible: Possible;
};

/** Whether what a notice offers can still be done, by the state of the page. */
type Possible = (state: unknown) => boolean;
const ALWAYS: Possible = () => true;

type Teller = {
  /**
   * Says something quietly; `undo` takes it back and resolves to why it could not, or `null`.
   * @param isPossible the notice ends when it no longer is.
   */
  tell(text: string, undo?: () => Promise<string | null>, isPossible?: Possible): void;
};

const NoticeContext = createContext<Teller>({ tell: () => undefined });

export const useUndoNotice = (): Teller => useContext(NoticeContext);

/** Where short notices stand: what was deleted, and the way back. They stay until closed or replaced. */
export function NoticeHolder({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const tell = useCallback(
    (text: string, undo?: () => Promise<string | null>, isPossible: Possible = ALWAYS) =>
      setNotice({ text, undo: undo ?? null, isPossible }),
    [],
  );
  const isPossible = useSelector((state: unknown) => notice === null || notice.isPossible(state));
  // Whoever plays reads labels and scenes there; what was said waits until they leave the stage.
  const isOnStage = useLocation().pathname.startsWith('/stage');
  const teller = useMemo(() => ({ tell }), [tell]);
  return (
    <NoticeContext value={teller}>
      {children}
      <ToastContainer position="bottom-center" className="notice-place">
        {notice && isPossible && !isOnStage && (
          <Toast onClose={() => setNotice(null)} animation={false}>
            <Toast.Body className="d-flex gap-3 align-items-center">
              <span>{notice.text}</span>
              <span className="gap" />
              {notice.undo && (
                <Button
                  variant="quiet"
                  onClick={() =>
                    void notice
                      .undo?.()
                      .then((failed) => setNotice(failed ? { ...notice, text: failed } : null))
                  }
                >
                  Undo
                </Button>
              )}
              <Button variant="bare" onClick={() => setNotice(null)}>
                Close
              </Button>
            </Toast.Body>
          </Toast>
        )}
      </ToastContainer>
    </NoticeContext>
  );
}
