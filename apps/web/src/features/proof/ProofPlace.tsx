import { groundOf, type PressPlan, type ProofFinding } from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';
import { NavLink, useParams } from 'react-router-dom';
import { LastCheckLink } from '../../check/LastCheckLink';
import { useRig } from '../../drafts/useDocs';
import { useIsShown } from '../../live/use/useLive';
import { useInPlay } from '../../live/use/useShow';
import { foundIn, useEveningShow, useFeet, useFindings, useSetAside } from '../../proof/useProof';
import { NotKept } from '../../records/NotKept';
import { counted } from '../../words/counted';
import { BreaksRoom } from './BreaksRoom';
import { FindingsRoom } from './FindingsRoom';
import { LayoutRoom } from './LayoutRoom';
import { PlanRoom } from './PlanRoom';
import { ReachRoom } from './ReachRoom';
import { useFeetModel } from '../../proof/useFeetModel';

const ROOMS = [
  { room: 'findings', text: 'Findings' },
  { room: 'reach', text: 'Reach' },
  { room: 'breaks', text: 'If something breaks' },
  { room: 'plan', text: 'Press plan' },
  { room: 'layout', text: 'Layout' },
] as const;

/** Is the evening right, before it: what is held against it, and how feet play it. */
export function ProofPlace() {
  const { rig } = useRig();
  const isShown = useIsShown(rig?.id);
  return rig && isShown ? (
    <Proof rig={rig} />
  ) : (
    <p className="work-pad muted" role="status">
      Fetching the set …
    </p>
  );
}

function Proof({ rig }: { rig: FullRig }) {
  const { room: wanted } = useParams();
  const { set } = useInPlay(rig.id);
  const show = useEveningShow(rig);
  const model = useFeetModel();
  const feet = useFeet(show, model.model);
  const findings = useFindings(rig);
  const aside = useSetAside(rig.id);
  const open = findings?.filter((f) => !aside.reasons.has(groundOf(f))) ?? null;
  const room = ROOMS.find((r) => r.room === wanted)?.room ?? 'findings';
  return (
    <div className="work-pad proof-place">
      <div className="place-head">
        <h1>Proof</h1>
        <span className="muted">
          {set ? `${set.name}, ` : 'All songs, '}
          {counted(show.songs.length, 'song')}
        </span>
        <span className="gap" />
        {set && <LastCheckLink rigId={rig.id} setId={set.id} />}
      </div>
      <Verdict
        songs={show.songs.length}
        plan={foundIn(feet.state)?.plan ?? null}
        isRunning={feet.state.kind === 'running'}
        findings={open}
      />
      <NotKept />
      <nav className="tabs rooms" aria-label="Rooms of Proof">
        {ROOMS.map((r) => (
          <NavLink key={r.room} to={`/proof/${r.room}`} className={r.room === room ? 'on' : ''}>
            {r.text}
            {r.room === 'findings' && open ? ` ${open.length}` : ''}
          </NavLink>
        ))}
      </nav>
      {room === 'findings' && <FindingsRoom show={show} findings={findings} aside={aside} />}
      {show.songs.length === 0 && (room === 'reach' || room === 'breaks') && (
        <p className="muted">What feet can do is tried on the scenes of the set, and there are none yet.</p>
      )}
      {show.songs.length > 0 && room === 'reach' && <ReachRoom show={show} feet={feet} />}
      {show.songs.length > 0 && room === 'breaks' && <BreaksRoom show={show} />}
      {room === 'plan' && <PlanRoom show={show} feet={feet} model={model} />}
      {room === 'layout' && <LayoutRoom show={show} model={model.model} />}
    </div>
  );
}

/** The evening in one sentence. */
function Verdict({
  songs,
  plan,
  isRunning,
  findings,
}: {
  songs: number;
  plan: PressPlan | null;
  isRunning: boolean;
  findings: readonly ProofFinding[] | null;
}) {
  if (songs === 0)
    return (
      <p className="verdict">
        There is nothing to prove yet: the set in play has no songs. Put some in, in Sets.
      </p>
    );
  const otherwise = plan?.parts.filter((p) => p.otherwise.length > 0).length ?? 0;
  const cannot = findings?.filter((f) => f.severity === 'refused').length ?? 0;
  const odd = (findings?.length ?? 0) - cannot;
  const words = [
    plan && plan.tight > 0 ? counted(plan.tight, 'tight place') : '',
    cannot > 0 ? `${counted(cannot, 'thing')} that cannot work` : '',
    odd > 0 ? counted(odd, 'finding') : '',
  ].filter(Boolean);
  return (
    <p className="verdict" role="status">
      {plan === null ? (
        <span className="muted">
          {isRunning ? 'Trying what feet can do …' : 'Not tried yet what feet can do.'}
        </span>
      ) : plan.open === 0 && otherwise > 0 ? (
        <span className="bad">
          Feet get through in {counted(plan.presses, 'press', 'presses')}, but in {counted(otherwise, 'part')}{' '}
          the gear does not stand as written.
        </span>
      ) : plan.open === 0 ? (
        <span>
          Plays hands-free in {counted(plan.presses, 'press', 'presses')}
          {words.length === 0 && findings !== null ? ', with nothing held against it.' : '.'}
        </span>
      ) : (
        <span className="bad">
          Does not play hands-free: no press leads to {counted(plan.open, 'part')} of {plan.parts.length}.
        </span>
      )}
      {words.length > 0 && <span className="caution">{sentence(words.join(', '))}</span>}
    </p>
  );
}

const sentence = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
