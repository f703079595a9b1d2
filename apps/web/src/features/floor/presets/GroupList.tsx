import {
  type Preset,
  type Bank,
  type ControlGroup,
  copiedBank,
  type Board,
  type ControlKind,
} from '@idle-step/core/floor';
import { Name } from '@idle-step/contract';
import { BookOpen, ChevronLeft, ChevronRight, Copy, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useLiveHost, useLiveState } from '../../../live/use/useLive';
import { TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { freeName } from '../../../words/names';
import type { Looking } from './useLookedPages';
import {
  newBank,
  withGroup,
  withJoined,
  withoutGroup,
  withPage,
  withParted,
} from '../../../edits/presetEdits';
import { nth } from '@idle-step/core/sure';

/** Kinds that are grouped first, since they are the ones that want pages. */
const FIRST_KINDS: readonly ControlKind[] = [
  'knob',
  'encoder',
  'fader',
  'pad',
  'strip',
  'expression-pedal',
  'button',
  'key',
  'footswitch',
];

/** Controls with pages of their own: which they are, their pages, and the one in force. */
export function GroupList({ preset, board, looking }: { preset: Preset; board: Board; looking: Looking }) {
  const edit = useEdit('presets');
  const [open, setOpen] = useState<string | null>(null);
  const taken = new Set(preset.groups.flatMap((g) => g.controlIds));
  const add = () => {
    const first = FIRST_KINDS.find((k) => board.controls.some((c) => c.kind === k && !taken.has(c.id)));
    const controlIds = board.controls.flatMap((c) => (c.kind === first && !taken.has(c.id) ? c.id : []));
    const id = crypto.randomUUID();
    edit(preset.id, 'make a group', (p) => withGroup(p, board, id, controlIds));
    setOpen(id);
  };
  return (
    <section className="groups" aria-label="Groups with pages">
      <div className="place-head">
        <h2 className="muted">Groups with pages</h2>
        <Button variant="bare" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Make a group
        </Button>
        {preset.groups.length === 0 && (
          <span className="small muted">
            Knobs, faders or pads can have pages of their own, turned by switches.
          </span>
        )}
      </div>
      {preset.groups.map((g) => (
        <GroupLine
          key={g.id}
          preset={preset}
          board={board}
          group={g}
          looking={looking}
          isOpen={open === g.id}
          onOpen={(isOpen) => setOpen(isOpen ? g.id : null)}
        />
      ))}
    </section>
  );
}

type GroupProps = { preset: Preset; board: Board; group: ControlGroup; looking: Looking };

/** One group: which page is in force, turning it, and changing the group. */
function GroupLine({
  preset,
  board,
  group: g,
  looking,
  isOpen,
  onOpen,
}: GroupProps & { isOpen: boolean; onOpen(isOpen: boolean): void }) {
  const host = useLiveHost();
  const { pages } = looking.pages;
  const at = Math.max(
    0,
    g.pages.findIndex((p) => p.id === pages[g.id]),
  );
  const page = g.pages[at] ?? nth(g.pages, 0);
  const turn = (to: 'up' | 'down') => host.command({ kind: 'page', boardId: board.id, groupId: g.id, to });
  return (
    <div className="group">
      <BookOpen size={16} aria-hidden="true" />
      <b>{g.name}</b>
      <span className="muted small">
        {g.controlIds.length} {g.controlIds.length === 1 ? 'control' : 'controls'}
      </span>
      <IconButton icon={ChevronLeft} label={`${g.name}: the page before`} onClick={() => turn('down')} />
      <span className="page-now">
        {page.name}{' '}
        <span className="muted small">
          ({at + 1} of {g.pages.length})
        </span>
      </span>
      <IconButton icon={ChevronRight} label={`${g.name}: the next page`} onClick={() => turn('up')} />
      <Button variant="bare" aria-expanded={isOpen} onClick={() => onOpen(!isOpen)}>
        {isOpen ? 'Close' : 'Change'}
      </Button>
      {isOpen && <GroupEdit {...{ preset, board, looking, page }} group={g} onDone={() => onOpen(false)} />}
    </div>
  );
}

/** The name of a group, its pages, and the controls that are in it. */
function GroupEdit({
  preset,
  board,
  group: g,
  looking,
  page,
  onDone,
}: GroupProps & { page: Bank; onDone(): void }) {
  const edit = useEdit('presets');
  const [isApart, setApart] = useState(false);
  const taken = new Set(preset.groups.flatMap((x) => x.controlIds));
  const set = (label: string, change: (g: ControlGroup) => ControlGroup) =>
    edit(preset.id, label, (p) => ({ ...p, groups: p.groups.map((x) => (x.id === g.id ? change(x) : x)) }));
  const nameFor = (wanted: string) =>
    freeName(
      g.pages.map((p) => p.name),
      wanted,
    );
  const add = (label: string, added: Bank) => {
    set(label, (x) => ({ ...x, pages: [...x.pages, added] }));
    looking.look({ groupId: g.id, pageId: added.id });
  };
  return (
    <div className="group-edit">
      <TextField
        label="Name of the group"
        value={g.name}
        schema={Name}
        onCommit={(name) => set('rename a group', (x) => ({ ...x, name }))}
      />
      <TextField
        label="Name of this page"
        value={page.name}
        schema={Name}
        onCommit={(name) =>
          edit(preset.id, 'rename a page', (p) => withPage(p, page.id, (b) => ({ ...b, name })))
        }
      />
      <Button
        variant="quiet"
        onClick={() => add('add a page', { ...newBank(1), name: nameFor(`Page ${g.pages.length + 1}`) })}
      >
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Add a page
      </Button>
      <Button
        variant="quiet"
        onClick={() =>
          add(
            'duplicate a page',
            copiedBank(page, nameFor(page.name), () => crypto.randomUUID()),
          )
        }
      >
        <Copy size={16} strokeWidth={1.75} aria-hidden="true" />
        Duplicate this page
      </Button>
      <Button
        variant="quiet"
        disabled={g.pages.length < 2}
        onClick={() =>
          set('remove a page', (x) => ({
            ...x,
            pages: x.pages.filter((b) => b.id !== page.id),
          }))
        }
      >
        <X size={16} strokeWidth={1.75} aria-hidden="true" />
        Remove this page
      </Button>
      <Button variant="quiet" aria-expanded={isApart} onClick={() => setApart(true)}>
        Take the group apart
      </Button>
      {isApart && (
        <TakeApart
          preset={preset}
          board={board}
          group={g}
          looking={looking}
          page={page}
          onLeave={() => setApart(false)}
          onDone={onDone}
        />
      )}
      <div className="ticks" role="group" aria-label={`Controls of ${g.name}`}>
        {board.controls
          .filter((c) => !taken.has(c.id) || g.controlIds.includes(c.id))
          .map((c) => (
            <Form.Check
              key={c.id}
              id={`in-${g.id}-${c.id}`}
              label={c.name}
              checked={g.controlIds.includes(c.id)}
              onChange={(e) =>
                edit(preset.id, 'change a group', (p) =>
                  e.target.checked ? withJoined(p, g.id, [c.id]) : withParted(p, g.id, c.id),
                )
              }
            />
          ))}
      </div>
      <p className="small muted">
        What a control did in the banks goes with it onto the first page. Give a switch that is not in the
        group the job “turn the page of a group”.
      </p>
    </div>
  );
}

/** Asks before a group is taken apart, with what becomes of its pages. */
function TakeApart({
  preset,
  board,
  group: g,
  page,
  onLeave,
  onDone,
}: GroupProps & { page: Bank; onLeave(): void; onDone(): void }) {
  const edit = useEdit('presets');
  const { banks } = useLiveState('banks');
  const bankNow = preset.banks.find((b) => b.id === banks[board.id]) ?? nth(preset.banks, 0);
  return (
    <div className="notice" role="alertdialog" aria-label={`Take ${g.name} apart`}>
      <span>
        {page.assignments.length} {page.assignments.length === 1 ? 'control keeps' : 'controls keep'} what{' '}
        {page.assignments.length === 1 ? 'it does' : 'they do'} on {page.name}, from now on in the bank{' '}
        {bankNow.name}.{g.pages.length > 1 && ` What the other ${g.pages.length - 1} pages say goes.`}
      </span>
      <Button
        variant="go"
        onClick={() => {
          edit(preset.id, 'take a group apart', (p) => withoutGroup(p, g.id, page.id, bankNow.id));
          onDone();
        }}
      >
        Take it apart
      </Button>
      <Button variant="quiet" onClick={onLeave}>
        Leave it
      </Button>
    </div>
  );
}
