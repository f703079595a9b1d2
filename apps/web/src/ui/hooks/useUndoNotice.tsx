import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';
import { Button, Toast } from 'react-bootstrap';
import { useSelector } from 'react-redux';

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
type Shown = { readonly notice: Notice | null; show(notice: Notice | null): void };

const TellerContext = createContext<Teller>({ tell: () => undefined });
const ShownContext = createContext<Shown>({ notice: null, show: () => undefined });

export const useUndoNotice = (): Teller => useContext(TellerContext);

/** Keeps the last notice, wherever in the page it is told. */
export function NoticeHolder({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const teller = useMemo(
    (): Teller => ({
      tell: (text, undo, isPossible = ALWAYS) => setNotice({ text, undo: undo ?? null, isPossible }),
    }),
    [],
  );
  const shown = useMemo((): Shown => ({ notice, show: setNotice }), [notice]);
  return (
    <TellerContext value={teller}>
      <ShownContext value={shown}>{children}</ShownContext>
    </TellerContext>
  );
}

/**
 * A short notice: what was deleted, and the way back. It stays until closed or replaced, in a line of its own below the
 * place, so that it covers nothing; on stage there is none, and it waits until whoever plays leaves it.
 */
export function NoticeLine() {
  const { notice, show } = useContext(ShownContext);
  const isPossible = useSelector((state: unknown) => notice === null || notice.isPossible(state));
  if (!notice || !isPossible) return null;
  return (
    <div className="notice-place">
      <Toast onClose={() => show(null)} animation={false}>
        <Toast.Body className="d-flex gap-3 align-items-center">
          <span>{notice.text}</span>
          <span className="gap" />
          {notice.undo && (
            <Button
              variant="quiet"
              onClick={() =>
                void notice.undo?.().then((failed) => show(failed ? { ...notice, text: failed } : null))
              }
            >
              Undo
            </Button>
          )}
          <Button variant="bare" onClick={() => show(null)}>
            Close
          </Button>
        </Toast.Body>
      </Toast>
    </div>
  );
}
