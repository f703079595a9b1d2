import { type Control, calibrate } from '@idle-step/core/floor';
import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useLiveHost } from '../../../live/use/useLive';

type Found = NonNullable<ReturnType<typeof calibrate>>;

/** The real ends of a pedal, from moving it once from heel to toe and back. */
export function Calibration({ control, onDone }: { control: Control; onDone(found: Found): void }) {
  const [isOn, setOn] = useState(false);
  const [said, setSaid] = useState<string | null>(null);
  const [span, setSpan] = useState<{ low: number; high: number } | null>(null);
  const positions = useRef<number[]>([]);
  const host = useLiveHost();
  // A pedal is at its end for less than a picture lasts: every position is taken, not those that are drawn.
  useEffect(() => () => host.watchRaws(null), [host]);
  const begin = () => {
    positions.current = [];
    setSaid(null);
    setSpan(null);
    setOn(true);
    const take = (raw: number | undefined) => {
      if (raw === undefined || positions.current.at(-1) === raw) return;
      positions.current.push(raw);
      setSpan({ low: Math.min(...positions.current), high: Math.max(...positions.current) });
    };
    // Where it stands when it begins counts too.
    take(host.now().state.raws[control.id]);
    host.watchRaws((raws) => take(raws[control.id]));
  };
  const leave = () => {
    host.watchRaws(null);
    setOn(false);
  };
  const finish = () => {
    const found = calibrate(positions.current);
    leave();
    setSpan(null);
    if (!found) {
      setSaid(
        `${control.name} moved too little: hold it at the heel, press it to the toe and come back. Nothing was changed.`,
      );
      return;
    }
    setSaid(`Heel ${Math.round(found.heel)}, toe ${Math.round(found.toe)}, jitter ${found.jitter}.`);
    onDone(found);
  };
  if (isOn)
    return (
      <div className="calibration" role="group" aria-label="Calibrating">
        <p role="status">
          Move {control.name} from the heel to the toe and back.{' '}
          <span className="num">
            {span ? `${Math.round(span.low)} to ${Math.round(span.high)}` : 'nothing heard yet'}
          </span>
        </p>
        <span className="span-bar" aria-hidden="true">
          {span && (
            <i style={{ left: `${(span.low / 127) * 100}%`, right: `${100 - (span.high / 127) * 100}%` }} />
          )}
        </span>
        <Button variant="go" onClick={finish}>
          Take these ends
        </Button>{' '}
        <Button variant="bare" onClick={leave}>
          Leave it
        </Button>
      </div>
    );
  return (
    <div>
      <Button variant="quiet" onClick={begin}>
        Calibrate by moving it
      </Button>
      {said && (
        <p className="small muted" role="status">
          {said}
        </p>
      )}
    </div>
  );
}
