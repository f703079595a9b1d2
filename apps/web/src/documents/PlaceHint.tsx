import { X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { screenChanged, type Place } from '../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../store';
import { IconButton } from '../ui/IconButton';

const HINTS: Readonly<Record<Place, string>> = {
  rig: 'Your gear, its ports and its cables; and the messages that each device answers to.',
  floor: 'What every switch, pedal and knob does, bank by bank. Click one to change it.',
  routes: 'What comes in at one port and goes out at another, changed on the way.',
  songs: 'A song is scenes, and a scene is what the whole rig is set to. Type into the sheet.',
  sets: 'Songs in the order of the evening. Step through their scenes here or by foot.',
};

/**
 * One line that says what a place is for, until something was done there or it was put away. What is done does not take
 * it away at once: everything below would move under the hand.
 */
export function PlaceHint({ place }: { place: Place }) {
  const dispatch = useAppDispatch();
  const used = useAppSelector((s) => s.screen.usedPlaces);
  const steps = useAppSelector((s) => s.drafts.steps);
  const before = useRef(steps);
  const isUsed = used.includes(place);
  const [isOpen, setOpen] = useState(!isUsed);
  // Put away, or something was done: the next time it does not come.
  const isDone = !isOpen || steps !== before.current;
  useEffect(() => {
    if (isDone && !isUsed) dispatch(screenChanged({ usedPlaces: [...used, place] }));
  }, [dispatch, isDone, isUsed, place, used]);
  if (!isOpen) return null;
  return (
    <p className="place-hint">
      {HINTS[place]}
      <IconButton icon={X} label="Put this line away" onClick={() => setOpen(false)} />
    </p>
  );
}
