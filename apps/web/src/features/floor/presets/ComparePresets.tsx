import {
  type Board,
  type Preset,
  ACTION_LISTS,
  comparePresets,
  type Assignment,
} from '@idle-step/core/floor';
import { useMemo } from 'react';
import { useWorld } from '../../../live/use/useLive';
import { actionWords } from '../../../actions/actionWords';
import { cellWords } from '../table/tableCells';
import type { World } from '@idle-step/core/engine';
import { isOneOf } from '@idle-step/core/sure';

const IN_WORDS: Partial<Record<keyof Assignment, string>> = {
  doublePress: 'double press',
  timing: 'times of gestures',
  response: 'how it takes hold',
  sweeps: 'what it moves',
  colour: 'colour of its label',
};

/** What differs between two presets of a board, control by control. */
export function ComparePresets({ board, left, right }: { board: Board; left: Preset; right: Preset }) {
  const world = useWorld();
  const { controls, pages } = useMemo(() => comparePresets(left, right), [left, right]);
  const nameOf = (id: string) => board.controls.find((c) => c.id === id)?.name ?? 'a control that is gone';
  return (
    <div className="preset-compare">
      <h2>
        {left.name} and {right.name}
      </h2>
      {controls.length === 0 && pages.length === 0 && (
        <p className="muted">They do the same, control by control.</p>
      )}
      {pages.map((p) => (
        <p key={p.place} className="small">
          Only {p.only === 'left' ? left.name : right.name} has {p.place}, {p.name}.
        </p>
      ))}
      {controls.length > 0 && (
        <table className="differences">
          <thead>
            <tr>
              <th scope="col">Where</th>
              <th scope="col">What differs</th>
              <th scope="col">{left.name}</th>
              <th scope="col">{right.name}</th>
            </tr>
          </thead>
          <tbody>
            {controls.flatMap((d) =>
              d.in.map((key) => (
                <tr key={`${d.place}/${d.controlId}/${key}`}>
                  <th scope="row">
                    {d.place}, {nameOf(d.controlId)}
                  </th>
                  <td>{IN_WORDS[key] ?? key}</td>
                  <td>{valueWords(world, d.left, key)}</td>
                  <td>{valueWords(world, d.right, key)}</td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      )}
    </div>
  );
}

function valueWords(world: World, assignment: Assignment, key: keyof Assignment): string {
  const doc = assignment;
  if (isOneOf(ACTION_LISTS, key))
    return (
      doc[key]
        .map((a) => {
          const { title, value } = actionWords(world, a);
          return `${title} ${value}${a.isOff ? ', off' : ''}`.trim();
        })
        .join('; ') || 'nothing'
    );
  if (key === 'sweeps') return cellWords(world, doc, 'sweeps') || 'nothing';
  if (key === 'timing') return `hold ${doc.timing.holdMs} ms, double press ${doc.timing.doubleMs} ms`;
  if (key === 'response')
    return `${doc.response.takeover}, steps ${doc.response.slowStep} to ${doc.response.fastStep}`;
  if (key === 'lamp') return doc.lamp === null ? 'as its kind' : `follows ${doc.lamp.kind}`;
  return String(doc[key] ?? '') || 'none';
}
