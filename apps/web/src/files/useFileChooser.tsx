import { useRef, type ReactNode } from 'react';

type Chooser = {
  /** Stands anywhere on the page; nothing of it is seen. */
  readonly input: ReactNode;
  /** Opens the browser's own dialogue. */
  choose(): void;
};

/**
 * Lets somebody choose a file. The same file can be chosen again.
 * @param accept kinds and endings, as the `accept` of an input.
 */
export function useFileChooser(label: string, accept: string, take: (file: File) => void): Chooser {
  const input = useRef<HTMLInputElement>(null);
  return {
    input: (
      <input
        ref={input}
        type="file"
        className="visually-hidden"
        accept={accept}
        aria-label={label}
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) take(file);
        }}
      />
    ),
    choose: () => input.current?.click(),
  };
}
