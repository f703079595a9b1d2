import {
  checkSentence,
  dueThing,
  FOUND_WORDS,
  rightCount,
  type CheckThing,
  type LineCheck,
} from '@idle-step/core/check';
import type { MiddleC } from '@idle-step/core/midi';
import { Button } from 'react-bootstrap';
import { useLiveHost } from '../live/use/useLive';
import { FitText } from '../ui/FitText';

/** What is to be pressed now, large, and how the one before was found. */
export function CheckNow({ check, middleC }: { check: LineCheck; middleC: MiddleC }) {
  const { lineCheck } = useLiveHost();
  const due = dueThing(check);
  const hinted = check.things.find((t) => t.id === check.hint?.thingId);
  return (
    <div className="check-now" data-testid="check-now">
      <span className="check-what" role="status">
        {askWords(check, due)}
      </span>
      <FitText text={check.lamps ? 'the lamps' : (due?.name ?? 'done')} max={110} min={48} />
      <span className="check-last">
        {hinted ? `That was ${hinted.name}.` : <LastFound check={check} middleC={middleC} />}
      </span>
      <span className="check-tools">
        <span className="num">
          {rightCount(check)} right of {check.things.length}
        </span>
        <Button variant="quiet" onClick={() => lineCheck.putOff()}>
          {check.lamps ? 'All are lit' : 'Put off'}
        </Button>
        <Button variant="quiet" onClick={() => lineCheck.stop()}>
          Stop the check
        </Button>
      </span>
    </div>
  );
}

function askWords(check: LineCheck, due: CheckThing | null): string {
  if (check.lamps) {
    const board = check.things.find((t) => t.kind !== 'device' && t.boardId === check.lamps?.boardId);
    const name = board && board.kind !== 'device' ? board.boardName : '';
    return `All lamps of ${name} should be lit. Press each that is dark; then hold any switch for a second.`;
  }
  if (!due) return 'The check is over.';
  if (due.kind === 'device') return 'Asking';
  const again = check.round > 1 && check.mode === 'in-order' ? 'Once more, ' : '';
  if (due.kind === 'switch') return `${again}${again ? 'press' : 'Press'} on ${due.boardName}`;
  const word = due.control.hardware.encoding === 'absolute' ? 'move from end to end' : 'turn';
  return `${again}${again ? word : word[0]?.toUpperCase() + word.slice(1)} on ${due.boardName}`;
}

/** How the thing that was due before was found. */
function LastFound({ check, middleC }: { check: LineCheck; middleC: MiddleC }) {
  const place = check.order[check.at - 1];
  const thing = place === undefined ? undefined : check.things[place];
  const result = thing && check.results[thing.id];
  if (!thing || !result) return null;
  return (
    <>
      {thing.name}: <b className={result.found === 'right' ? 'good' : 'bad'}>{FOUND_WORDS[result.found]}</b>.{' '}
      {checkSentence(thing, result, middleC)}
    </>
  );
}
