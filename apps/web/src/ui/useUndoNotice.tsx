import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';
import { Button, Toast, ToastContainer } from 'react-bootstrap';

type Notice = { readonly text: string; readonly undo: (() => Promise<string | null>) | null };

type Teller = {
  /** Says something quietly; `undo` takes it back and resolves to why it could not, or `null`. */
  tell(text: string, undo?: () => Promise<string | null>): void;
};

const NoticeContext = createContext<Teller>({ tell: () => undefined });

export const useUndoNotice = (): Teller => useContext(NoticeContext);

/** Where short notices stand: what was deleted, and the way back. They stay until closed or replaced. */
export function NoticeHolder({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const tell = useCallback(
    (text: string, undo?: () => Promise<string | null>) => setNotice({ text, undo: undo ?? null }),
    [],
  );
  const teller = useMemo(() => ({ tell }), [tell]);
  return (
    <NoticeContext value={teller}>
      {children}
      <ToastContainer position="bottom-center" className="notice-place">
        {notice && (
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
                      .then((failed) => setNotice(failed ? { text: failed, undo: notice.undo } : null))
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
