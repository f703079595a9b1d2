import type { Break } from '@idle-step/core/proof';
import { compileWorld, type World } from '@idle-step/core/engine';
import { Check, TriangleAlert } from 'lucide-react';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { foundIn, useBreaks, type FullShow } from '../../proof/useProof';
import { counted } from '../../words/counted';
import { useMend } from './FindingsRoom';
import { SearchLine } from './SearchLine';

/** The evening with each thing of the rig taken away in turn. */
export function BreaksRoom({ show }: { show: FullShow }) {
  const breaks = useBreaks(show);
  const world = useMemo(() => compileWorld(show), [show]);
  const found = foundIn(breaks.state);
  const scenes = world.songs.reduce((n, s) => n + new Set(s.parts.map((p) => p.sceneId)).size, 0);
  const parts = world.songs.reduce((n, s) => n + s.parts.length, 0);
  const mend = useMend(show);
  const harm = found?.filter((b) => !isBorne(b)) ?? [];
  const borne = found?.filter(isBorne) ?? [];
  return (
    <section aria-label="If something breaks">
      <SearchLine {...breaks} what="Taking things away" />
      {found && (
        <>
          <p className="proof-sum">
            {harm.length === 0
              ? 'The evening bears the loss of any one thing.'
              : `${counted(harm.length, 'thing')} of ${found.length} would be missed.`}
          </p>
          <div className="preset-scroll" role="region" aria-label="What would be missed" tabIndex={0}>
            <table className="sends-list breaks-table">
              <thead>
                <tr>
                  <th scope="col">Without</th>
                  <th scope="col">Feet</th>
                  <th scope="col">Scenes that lose something</th>
                  <th scope="col">What would bear it</th>
                </tr>
              </thead>
              <tbody>
                {harm.map((b) => (
                  <tr key={`${b.kind} ${b.id}`}>
                    <th scope="row">{b.name}</th>
                    <td className={b.openParts > 0 ? 'bad' : ''}>
                      {b.openParts > 0
                        ? `no press leads to ${b.openParts} of ${counted(parts, 'part')}`
                        : counted(b.presses ?? 0, 'press', 'presses')}
                    </td>
                    <td>{lossText(world, b, scenes)}</td>
                    <td>
                      {b.mend && breaks.state.kind === 'found' && (
                        <Button variant="quiet" onClick={() => b.mend && mend(b.mend)}>
                          {b.mend.text}
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {borne.length > 0 && (
            <p className="borne">
              <Check size={16} strokeWidth={2} aria-hidden="true" />
              Nothing is lost without {borne.map((b) => b.name).join(', ')}.
            </p>
          )}
          {harm.some((b) => b.openParts > 0 && !b.mend) && (
            <p className="muted">
              <TriangleAlert size={16} strokeWidth={2} aria-hidden="true" /> Where nothing is offered, no
              single switch of another board would bear it.
            </p>
          )}
        </>
      )}
    </section>
  );
}

const isBorne = (b: Break): boolean => b.openParts === 0 && b.scenes.length === 0 && b.unmoved.length === 0;

function lossText(world: World, { scenes, unmoved }: Break, all: number): string {
  if (unmoved.length > 0)
    return `${unmoved.map((id) => world.functions.get(id)?.fn.name ?? '').join(', ')} cannot be swept`;
  if (scenes.length === 0) return 'none';
  const names = [
    ...new Set(
      scenes.flatMap((s) => s.functionIds.flatMap((id) => world.functions.get(id)?.device.name ?? [])),
    ),
  ];
  return `${scenes.length === all ? 'all' : `${scenes.length} of`} ${all}: ${names.join(', ')}`;
}
