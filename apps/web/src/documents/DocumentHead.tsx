import { Name, type Resource } from '@idle-step/contract';
import type { ReactNode } from 'react';
import { TextField } from '../ui/Fields';
import { SaveState } from './SaveState';

type Props = {
  /** What the page is called when it is read out; seen where no field shows it. */
  title: string;
  /** The field of its name, where it can be renamed here. */
  named?: { readonly label: string; onRename(name: string): void; readonly isNew?: boolean };
  /** Whose saving is told; none where nothing is kept yet. */
  doc: { readonly resource: Resource; readonly id: string } | null;
  /** What stands between the name and how it is saved. */
  facts?: ReactNode;
  className?: string;
  /** What can be done with it. */
  children?: ReactNode;
};

/** The head of a page on which a document is edited: its name, what it is, how its saving stands, what can be done. */
export function DocumentHead({ title, named, doc, facts, className = '', children }: Props) {
  return (
    <div className={`place-head ${className}`}>
      <h1 className={named ? 'visually-hidden' : ''}>{title}</h1>
      {named && (
        <TextField
          // One that was just made is named first.
          key={named.isNew ? doc?.id : 'named'}
          startsMarked={named.isNew ?? false}
          hideLabel
          label={named.label}
          className="song-title"
          value={title}
          schema={Name}
          onCommit={(name) => named.onRename(name)}
        />
      )}
      {facts}
      {doc && <SaveState resource={doc.resource} id={doc.id} />}
      {children}
    </div>
  );
}
