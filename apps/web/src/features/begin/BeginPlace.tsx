import type { FullRig } from '@idle-step/core/routing';
import { ChannelNumber, Name, PROBLEM } from '@idle-step/contract';
import { BOARD_SHAPES } from '@idle-step/core/floor';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, useRig } from '../../drafts/useDocs';
import { allSaved } from '../../drafts/whole/wholeChanges';
import { useAppDispatch } from '../../store';
import { EMPTY_SHAPE } from '../../edits/boardEdits';
import { firstRig, type FirstAnswers, type FirstRig } from '../../edits/firstRig';
import { NumberField, TextField } from '../../ui/Fields';
import { Trouble } from '../../ui/Trouble';
import { FirstPress } from './FirstPress';

const STEPS = ['Under your feet', 'What it moves', 'How it is cabled', 'The first press'] as const;

const SIMULATED = [
  { value: { kind: 'string-processor' }, text: 'A string processor' },
  { value: { kind: 'looper' }, text: 'A looper' },
  { value: { kind: 'track-host' }, text: 'A track host' },
  { value: { kind: 'mixer' }, text: 'A mixer' },
  { value: { kind: 'lights' }, text: 'Lights' },
  { value: { kind: 'pad-instrument' }, text: 'A pad instrument' },
  { value: { kind: 'backing-player' }, text: 'A backing player' },
] as const;

const FEET = [
  ...BOARD_SHAPES.map((s) => ({ value: s.kind, text: s.text })),
  { value: EMPTY_SHAPE, text: 'Something else, built control by control' },
];

/** Three questions and the first press: from nothing to a switch that moves something. */
export function BeginPlace() {
  const { rig } = useRig();
  return rig && <Begin key={rig.id} rig={rig} />;
}

function Begin({ rig }: { rig: FullRig }) {
  const navigate = useNavigate();
  const edit = useEdit('rigs');
  const create = useCreateDoc();
  const dispatch = useAppDispatch();
  const [built, setBuilt] = useState<FirstRig | null>(null);
  const [step, setStep] = useState(0);
  const [answers, setAnswers] = useState<FirstAnswers>({ shape: null, target: null, through: 'computer' });
  const [made, setMade] = useState<FirstRig | null>(null);
  const [isBusy, setBusy] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  const answer = (part: Partial<FirstAnswers>) => {
    setAnswers({ ...answers, ...part });
    setStep(step + 1);
  };
  const build = async (through: FirstAnswers['through']) => {
    // What was begun and not kept whole is gone on with: pressed again, nothing is written down twice.
    const result = built ?? firstRig(rig, { ...answers, through });
    if (!built) edit(rig.id, 'begin a rig', () => withPreset(result, null));
    setBuilt(result);
    setBusy(true);
    const refused = result.preset ? await keptPreset(result.preset) : null;
    setBusy(false);
    setRefusal(refused);
    if (refused) return;
    const { preset } = result;
    if (preset)
      edit(rig.id, 'put a preset in force', (now) => withPreset({ ...result, rig: now }, preset.id));
    setMade(result);
    setStep(3);
  };
  /** The preset once its board is kept. One that is there already was kept by an answer that was lost. */
  const keptPreset = async (preset: NonNullable<FirstRig['preset']>): Promise<string | null> => {
    if (!(await dispatch(allSaved()))) return 'The rig could not be saved yet. Press again when it was.';
    const refused = await create('presets', preset);
    return refused && refused.problem?.type !== PROBLEM.taken ? refused.sentence : null;
  };
  return (
    <div className="work-pad begin">
      <ol className="begin-steps" aria-label="Steps">
        {STEPS.map((name, i) => (
          <li
            key={name}
            className={i === step ? 'now' : i < step ? 'done' : ''}
            aria-current={i === step ? 'step' : undefined}
          >
            <span className="num">{i + 1}</span> {name}
          </li>
        ))}
      </ol>
      {step === 0 && <Feet onPick={(shape) => answer({ shape })} />}
      {step === 1 && <Moves onPick={(target) => answer({ target })} />}
      {step === 2 && <Cables isBusy={isBusy} answers={answers} onPick={(through) => void build(through)} />}
      {step === 3 && made && <FirstPress rig={rig} made={made} />}
      <Trouble>{refusal}</Trouble>
      <div className="begin-foot">
        {step > 0 && step < 3 && (
          <Button variant="quiet" disabled={isBusy || built !== null} onClick={() => setStep(step - 1)}>
            Back
          </Button>
        )}
        <Button variant="bare" disabled={isBusy} onClick={() => void navigate('/rig')}>
          {step < 3 ? 'Leave this, and write the rig down by hand' : 'Go to the rig'}
        </Button>
      </div>
    </div>
  );
}

/** The rig as it is with a preset in force on the board that was begun with, or none. */
const withPreset = (
  { rig, boardId }: Pick<FirstRig, 'rig' | 'boardId'>,
  presetId: string | null,
): FullRig => ({
  ...rig,
  boards: rig.boards.map((b) => (b.id === boardId ? { ...b, presetId } : b)),
});

/** Answers beside each other, with the one that leaves the question open. */
function Choices<T>({
  options,
  none,
  onPick,
}: {
  options: readonly { readonly value: T; readonly text: string }[];
  none: T;
  onPick(value: T): void;
}) {
  return (
    <div className="begin-choices">
      {options.map((o) => (
        <Button key={o.text} variant="quiet" onClick={() => onPick(o.value)}>
          {o.text}
        </Button>
      ))}
      <Button variant="bare" onClick={() => onPick(none)}>
        Skip this
      </Button>
    </div>
  );
}

function Feet({ onPick }: { onPick(shape: string | null): void }) {
  return (
    <section aria-labelledby="begin-head">
      <h1 id="begin-head">What do you play on your feet?</h1>
      <p className="muted">
        Or with your hands. What each switch sends is learned in a moment, by pressing it.
      </p>
      <Choices<string | null> options={FEET} none={null} onPick={onPick} />
    </section>
  );
}

function Moves({ onPick }: { onPick(target: FirstAnswers['target']): void }) {
  const [name, setName] = useState('My gear');
  const [channel, setChannel] = useState(0);
  return (
    <section aria-labelledby="begin-head">
      <h1 id="begin-head">What should it move?</h1>
      <div className="begin-own">
        <TextField label="Gear of your own, called" value={name} schema={Name} onCommit={setName} />
        <NumberField
          label="It listens on channel"
          className="narrow"
          value={channel}
          shownOffset={1}
          schema={ChannelNumber}
          onCommit={setChannel}
        />
        <Button variant="go" onClick={() => onPick({ kind: 'own', name, channel })}>
          Move {name}
        </Button>
      </div>
      <p className="muted">Or, with no gear at hand, something simulated that can be seen and heard:</p>
      <Choices<FirstAnswers['target']> options={SIMULATED} none={null} onPick={onPick} />
    </section>
  );
}

function Cables({
  answers,
  isBusy,
  onPick,
}: {
  answers: FirstAnswers;
  isBusy: boolean;
  onPick(through: FirstAnswers['through']): void;
}) {
  const nothing = answers.shape === null && answers.target === null;
  return (
    <section aria-labelledby="begin-head">
      <h1 id="begin-head">How are they cabled?</h1>
      {nothing && <p className="muted">There is nothing to cable yet.</p>}
      <div className="begin-choices">
        <Button variant="quiet" disabled={isBusy} onClick={() => onPick('computer')}>
          By USB, into this computer
        </Button>
        <Button variant="quiet" disabled={isBusy} onClick={() => onPick('interface')}>
          By MIDI cables, through an interface
        </Button>
        <Button variant="bare" disabled={isBusy} onClick={() => onPick('computer')}>
          {isBusy ? 'Writing it down …' : 'Skip this'}
        </Button>
      </div>
    </section>
  );
}
