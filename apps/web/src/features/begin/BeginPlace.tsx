import { ChannelNumber, Name, type RigDoc } from '@idle-step/contract';
import { BOARD_SHAPES } from '@idle-step/core/floor';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, useRig } from '../../drafts/useDocs';
import { EMPTY_SHAPE } from '../../edits/boardEdits';
import { firstRig, type FirstAnswers, type FirstRig } from '../../edits/firstRig';
import { NumberField, TextField } from '../../ui/Fields';
import { FirstPress } from './FirstPress';

const STEPS = ['Under your feet', 'What it moves', 'How it is cabled', 'The first press'] as const;

const SIMULATED = [
  { kind: 'string-processor', text: 'A string processor' },
  { kind: 'looper', text: 'A looper' },
  { kind: 'track-host', text: 'A track host' },
  { kind: 'mixer', text: 'A mixer' },
  { kind: 'lights', text: 'Lights' },
  { kind: 'pad-instrument', text: 'A pad instrument' },
  { kind: 'backing-player', text: 'A backing player' },
] as const;

/** Three questions and the first press: from nothing to a switch that moves something. */
export function BeginPlace() {
  const { rig } = useRig();
  return rig && <Begin key={rig.id} rig={rig} />;
}

function Begin({ rig }: { rig: RigDoc }) {
  const navigate = useNavigate();
  const edit = useEdit('rigs');
  const create = useCreateDoc();
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
    const result = firstRig(rig, { ...answers, through });
    setBusy(true);
    // The board is kept before what it does: a preset belongs to a board that is there.
    const withoutPreset = {
      ...result.rig,
      boards: result.rig.boards.map((b) => (b.presetId === result.preset?.id ? { ...b, presetId: null } : b)),
    };
    edit(rig.id, 'begin a rig', () => withoutPreset);
    const refused = result.preset ? await createWhenKept(() => create('presets', result.preset!)) : null;
    setBusy(false);
    setRefusal(refused);
    if (refused) return;
    if (result.preset) edit(rig.id, 'put a preset in force', () => result.rig);
    setMade(result);
    setStep(3);
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
      {refusal && (
        <p className="field-error" role="alert">
          {refusal}
        </p>
      )}
      <div className="begin-foot">
        {step > 0 && step < 3 && (
          <Button variant="quiet" disabled={isBusy} onClick={() => setStep(step - 1)}>
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

/** A preset is refused until its board is kept, which takes a moment: asked again for a few seconds. */
async function createWhenKept(
  create: () => Promise<{ readonly sentence: string } | null>,
): Promise<string | null> {
  for (let i = 0; ; i++) {
    const refused = await create();
    if (!refused) return null;
    if (i === 20) return refused.sentence;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
}

function Feet({ onPick }: { onPick(shape: string | null): void }) {
  return (
    <section aria-labelledby="begin-head">
      <h1 id="begin-head">What do you play on your feet?</h1>
      <p className="muted">
        Or with your hands. What each switch sends is learned in a moment, by pressing it.
      </p>
      <div className="begin-choices">
        {BOARD_SHAPES.map((s) => (
          <Button key={s.kind} variant="quiet" onClick={() => onPick(s.kind)}>
            {s.text}
          </Button>
        ))}
        <Button variant="quiet" onClick={() => onPick(EMPTY_SHAPE)}>
          Something else, built control by control
        </Button>
        <Button variant="bare" onClick={() => onPick(null)}>
          Skip this
        </Button>
      </div>
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
      <div className="begin-choices">
        {SIMULATED.map((s) => (
          <Button key={s.kind} variant="quiet" onClick={() => onPick({ kind: s.kind })}>
            {s.text}
          </Button>
        ))}
        <Button variant="bare" onClick={() => onPick(null)}>
          Skip this
        </Button>
      </div>
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
