import { presetSends, type Sent } from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';
import { type Preset, feelOf, turnedRound } from '@idle-step/core/floor';
import { ArrowDown, ArrowUp, TriangleAlert } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit, useSongList } from '../../../drafts/useDocs';
import { assignmentOf, withAssignment } from '../../../edits/presetEdits';
import { LIST_WORDS } from './listWords';

const COLUMNS = [
  { key: 'channel', title: 'Channel' },
  { key: 'number', title: 'Message' },
  { key: 'value', title: 'Value' },
  { key: 'deviceName', title: 'To' },
  { key: 'does', title: 'Does' },
  { key: 'pageName', title: 'Bank or page' },
  { key: 'controlName', title: 'Control' },
] as const;
type Key = (typeof COLUMNS)[number]['key'];

/** Everything that a preset sends, by channel and number, with what is odd about it. */
export function SendsRoom({
  rig,
  preset,
  onGo,
}: {
  rig: FullRig;
  preset: Preset;
  onGo(pageId: string, controlId: string): void;
}) {
  const songs = useSongList(rig.id).items;
  const [sort, setSort] = useState<{ key: Key; isDown: boolean }>({ key: 'channel', isDown: false });
  const [onlyMarked, setOnlyMarked] = useState(false);
  const scenesAtMost = songs.length === 0 ? null : Math.max(...songs.map((s) => s.sceneCount));
  const all = useMemo(() => presetSends(rig, preset, scenesAtMost), [rig, preset, scenesAtMost]);
  const edit = useEdit('presets');
  /** The lamp gets a rule of its own where it had that of its kind. */
  const turnLamp = ({ pageId, controlId }: Sent) =>
    edit(preset.id, 'turn a lamp round', (p) => {
      const page = [...p.banks, ...p.groups.flatMap((g) => g.pages)].find((b) => b.id === pageId);
      const now = assignmentOf(controlId, page);
      const kind = rig.boards.flatMap((b) => b.controls).find((c) => c.id === controlId)?.kind;
      const rule = now.lamp ?? (kind ? feelOf(p, kind).lamp : null);
      if (rule?.kind !== 'function') return p;
      const lamp = { ...rule, stops: turnedRound(rule.stops) };
      return withAssignment(p, pageId, { ...now, lamp });
    });
  const marked = all.filter((r) => r.marks.length > 0);
  const rows = sorted(onlyMarked ? marked : all, sort);
  return (
    <section className="sends-room" aria-label="Everything this preset sends">
      <div className="place-head">
        <span className="muted small">
          {all.length} {all.length === 1 ? 'line' : 'lines'},{' '}
          {marked.length === 0 ? 'nothing odd among them' : `${marked.length} with something odd`}
        </span>
        <Form.Check
          id="only-marked"
          label="only what is odd"
          checked={onlyMarked}
          disabled={marked.length === 0 && !onlyMarked}
          onChange={(e) => setOnlyMarked(e.target.checked)}
        />
      </div>
      {all.length === 0 ? (
        <p className="muted">
          Nothing yet. What the switches and pedals of this preset send is listed here as soon as they do
          something.
        </p>
      ) : (
        <div className="preset-scroll">
          <table className="sends-list">
            <thead>
              <tr>
                {COLUMNS.map(({ key, title }) => (
                  <th
                    key={key}
                    scope="col"
                    aria-sort={sort.key !== key ? 'none' : sort.isDown ? 'descending' : 'ascending'}
                  >
                    <button
                      type="button"
                      className="sort"
                      onClick={() => setSort({ key, isDown: sort.key === key && !sort.isDown })}
                    >
                      {title}
                      {sort.key === key &&
                        (sort.isDown ? (
                          <ArrowDown size={12} aria-hidden="true" />
                        ) : (
                          <ArrowUp size={12} aria-hidden="true" />
                        ))}
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((r, i) => (
                <SentRow
                  key={`${r.pageId}/${r.controlId}/${r.list}/${i}`}
                  row={r}
                  onGo={onGo}
                  onTurnLamp={turnLamp}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function SentRow({
  row,
  onGo,
  onTurnLamp,
}: {
  row: Sent;
  onGo(pageId: string, controlId: string): void;
  onTurnLamp(row: Sent): void;
}) {
  return (
    <>
      <tr className={row.marks.length > 0 ? 'odd' : ''}>
        <td className="num">{row.channel === null ? '' : row.channel + 1}</td>
        <td className="num">{row.message || 'nothing of its own'}</td>
        <td className="num">{row.value ?? ''}</td>
        <td>{row.deviceName}</td>
        <td>{row.does}</td>
        <td>{row.pageName}</td>
        <td>
          <button type="button" className="as-link" onClick={() => onGo(row.pageId, row.controlId)}>
            {row.controlName}
          </button>{' '}
          <span className="muted small">{LIST_WORDS[row.list]}</span>
        </td>
      </tr>
      {row.marks.map((m) => (
        <tr key={m.sentence} className="told">
          <td colSpan={COLUMNS.length}>
            <TriangleAlert size={14} aria-hidden="true" /> {m.sentence}{' '}
            {m.code === 'lamp-turned-round' && (
              <Button variant="quiet" onClick={() => onTurnLamp(row)}>
                Turn the lamp round
              </Button>
            )}
          </td>
        </tr>
      ))}
    </>
  );
}

/** By number or by words; what has none comes last, equal rows keep their order. */
function sorted(rows: readonly Sent[], { key, isDown }: { key: Key; isDown: boolean }): readonly Sent[] {
  const words = new Intl.Collator('en', { numeric: true });
  const sign = isDown ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [x, y] = [a[key], b[key]];
    if (typeof x === 'number' || typeof y === 'number' || x === null || y === null)
      return sign * (Number(x ?? Infinity) - Number(y ?? Infinity) || 0) || 0;
    return sign * words.compare(x, y);
  });
}
