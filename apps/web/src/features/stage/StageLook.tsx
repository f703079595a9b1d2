import { STAGE_VIEWS, type StageView } from '@idle-step/core/engine';
import { X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { useLiveHost, useLiveState } from '../../live/use/useLive';
import { screenChanged, STAGE_PARTS, STAGE_TEXTS, type StagePart } from '../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../store';
import { Pick } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';

export const VIEW_WORDS: Record<StageView, string> = {
  scene: 'the scene',
  labels: 'the labels',
  order: 'the running order',
  song: 'the song and its scenes',
};

const TEXT_WORDS: Record<(typeof STAGE_TEXTS)[number], string> = {
  normal: 'normal',
  large: 'large',
  largest: 'largest',
};

const PART_WORDS: Record<StagePart, string> = {
  times: 'times of the song and set',
  next: 'what comes next',
  tempo: 'tempo and beat',
  armed: 'armed tracks',
  pedals: 'pedals',
  minors: 'the smaller boards',
  marks: 'lamps and tape marks',
  sent: 'what was last sent',
};

const HERE = [
  { thing: 'click', words: 'a click at each beat' },
  { thing: 'hands-off', words: 'hands off: nothing to real ports' },
] as const;

/** How the stage looks on this computer, and what it does when a port comes back. */
export function StageLook({ onClose }: { onClose(): void }) {
  const host = useLiveHost();
  const dispatch = useAppDispatch();
  const { view, here } = useLiveState('view', 'here');
  const { stageText, stageHidden, afterPort } = useAppSelector((s) => s.screen);
  const toggle = (part: StagePart) =>
    dispatch(
      screenChanged({
        stageHidden: stageHidden.includes(part)
          ? stageHidden.filter((p) => p !== part)
          : [...stageHidden, part],
      }),
    );
  return (
    <section
      className="stage-look"
      aria-label="Look of the stage"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.preventDefault();
        e.stopPropagation();
        onClose();
      }}
    >
      <div className="place-head">
        <h2>Look</h2>
        <span className="gap" />
        <IconButton icon={X} label="Close" onClick={onClose} />
      </div>
      <Pick
        label="Shows large"
        value={view}
        options={STAGE_VIEWS.map((value) => ({ value, text: VIEW_WORDS[value] }))}
        onPick={(to) => host.command({ kind: 'view', to })}
      />
      <Pick
        label="Text"
        value={stageText}
        options={STAGE_TEXTS.map((value) => ({ value, text: TEXT_WORDS[value] }))}
        onPick={(value) => dispatch(screenChanged({ stageText: value }))}
      />
      <Pick
        label="When a port comes back"
        value={afterPort}
        options={[
          { value: 'again', text: 'send it the scene again' },
          { value: 'leave', text: 'leave it as it is' },
        ]}
        onPick={(value) => dispatch(screenChanged({ afterPort: value }))}
      />
      <fieldset>
        <legend>On this computer</legend>
        {HERE.map(({ thing, words }) => (
          <Form.Check
            key={thing}
            id={`here-${thing}`}
            type="checkbox"
            label={words}
            checked={here[thing]}
            onChange={() => host.command({ kind: 'here', thing, to: 'toggle' })}
          />
        ))}
      </fieldset>
      <fieldset>
        <legend>Shown</legend>
        {STAGE_PARTS.map((part) => (
          <Form.Check
            key={part}
            id={`part-${part}`}
            type="checkbox"
            label={PART_WORDS[part]}
            checked={!stageHidden.includes(part)}
            onChange={() => toggle(part)}
          />
        ))}
      </fieldset>
    </section>
  );
}
