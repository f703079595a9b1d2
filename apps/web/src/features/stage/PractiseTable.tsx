import { stepTo, usePlanSteps } from '../../proof/planOnStage';
import type { World } from '@idle-step/core/engine';
import { Button } from 'react-bootstrap';
import { Cloth } from '../../ui/Cloth';
import { Corners } from '../../ui/Corners';
import { FitText } from '../../ui/FitText';
import type { Practising } from './usePractise';
import { nth } from '@idle-step/core/sure';

/** Begins and ends practising, and says how it went in each song. */
export function PractiseTable({ world, practising }: { world: World; practising: Practising }) {
  const { now, start, stop } = practising;
  const counts = now?.counts ?? [];
  const asked = counts.reduce((n, c) => n + c.asked, 0);
  const right = counts.reduce((n, c) => n + c.right, 0);
  return (
    <section className="practise" aria-label="Practise">
      <div className="rehearse-tools">
        <Button variant={now ? 'quiet' : 'go'} onClick={now ? stop : start}>
          {now ? 'Stop practising' : 'Practise: which switch?'}
        </Button>
        {now && (
          <span className="num">
            {right} of {asked}
          </span>
        )}
      </div>
      {!now && (
        <p className="small muted">
          Labels are hidden, and the set asks scene by scene which switch leads on. Nothing is sent meanwhile.
        </p>
      )}
      {counts.length > 0 && (
        <table className="lines">
          <thead>
            <tr>
              <th>Song</th>
              <th>Right at once</th>
              <th>On average</th>
            </tr>
          </thead>
          <tbody>
            {counts.map((c) => (
              <tr key={c.songIndex}>
                <td>{world.songs[c.songIndex]?.song.name ?? 'gone'}</td>
                <td className="num">
                  {c.right} of {c.asked}
                </td>
                <td className="num">{(c.totalMs / c.asked / 1000).toFixed(1)} s</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** The question, in place of the scene. */
export function PractiseNow({ world, practising }: { world: World; practising: Practising }) {
  const { now, last } = practising;
  const steps = usePlanSteps(world);
  if (!now) return null;
  const question = now.questions[now.at];
  const step = question && now.misses > 0 ? stepTo(steps, question) : '';
  const name = last && world.controls.get(last.controlId)?.control.name;
  const said =
    last === null
      ? 'which switch leads there?'
      : last.answer === 'right'
        ? `${name}: right. And now?`
        : last.answer === 'wrong'
          ? step
            ? `${name}: no. ${step}`
            : `${name} does not lead there.`
          : `${name} turns a page. Go on.`;
  return (
    <div className="stage-now framed" data-testid="practise-now" role="status">
      <Corners />
      <Cloth large lit className="now-cloth" text="" />
      <span className="now-text with-remark">
        <FitText text={question?.name ?? 'the end of the set'} max={170} min={60} />
      </span>
      <p className="stage-remark">
        {!question
          ? 'That was all of it.'
          : last?.answer === 'wrong' && step
            ? said
            : `${nth(world.songs, question.songIndex).song.name}: ${said}`}
      </p>
    </div>
  );
}
