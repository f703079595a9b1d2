import { applied, type Json, type Mend } from '@idle-step/core/edits';
import { groundOf, WHY, type ProofFinding } from '@idle-step/core/proof';
import { pagesOf } from '@idle-step/core/floor';
import { CircleCheck } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { useEdit } from '../../drafts/useDocs';
import type { FullShow, useSetAside } from '../../proof/useProof';
import { Trouble } from '../../ui/Trouble';

type Aside = ReturnType<typeof useSetAside>;
type Props = { show: FullShow; findings: readonly ProofFinding[] | null; aside: Aside };

/** All that is held against the evening, each with why it matters, the way there, and what mends it. */
export function FindingsRoom({ show, findings, aside }: Props) {
  const [trouble, setTrouble] = useState<string | null>(null);
  if (!findings)
    return (
      <p className="muted" role="status">
        Looking through the evening …
      </p>
    );
  const isAside = (f: ProofFinding) => aside.reasons.has(groundOf(f));
  const open = findings.filter((f) => !isAside(f));
  const meant = findings.filter(isAside);
  return (
    <section aria-label="Findings" className="findings-room">
      {open.length === 0 ? (
        <p className="all-well">
          <CircleCheck size={20} strokeWidth={1.75} aria-hidden="true" />
          Nothing is held against this evening. Gear, boards, routes, songs and the set were looked through;
          they are again after each edit.
        </p>
      ) : (
        <ul className="finding-list">
          {open.map((finding) => (
            <OpenFinding key={groundOf(finding)} show={show} finding={finding} aside={aside} />
          ))}
        </ul>
      )}
      {meant.length > 0 && (
        <>
          <h2>Set aside</h2>
          <Trouble>{trouble}</Trouble>
          <ul className="finding-list aside">
            {meant.map((finding) => (
              <li key={groundOf(finding)}>
                <i className="severity aside" aria-hidden="true" />
                <div>
                  <p>{finding.sentence}</p>
                  <p className="muted small">{aside.reasons.get(groundOf(finding)) || 'No reason given.'}</p>
                </div>
                <span className="finding-tools">
                  <Button variant="quiet" onClick={() => void aside.takeBack(finding).then(setTrouble)}>
                    Take it back
                  </Button>
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function OpenFinding({ show, finding, aside }: { show: FullShow; finding: ProofFinding; aside: Aside }) {
  const mend = useMend(show);
  const [reason, setReason] = useState<string | null>(null);
  const to = wayTo(show, finding);
  return (
    <li className={finding.severity}>
      <i
        className={`severity ${finding.severity}`}
        role="img"
        aria-label={finding.severity === 'refused' ? 'cannot work' : 'odd'}
      />
      <div>
        <p>{finding.sentence}</p>
        <p className="muted small">{WHY[finding.code]}</p>
        {reason !== null && (
          <Form
            className="aside-form"
            onSubmit={(e) => {
              e.preventDefault();
              aside.setAside(finding, reason.trim());
            }}
          >
            <Form.Control
              aria-label="Why it is meant to be so"
              placeholder="Why it is meant to be so"
              maxLength={400}
              value={reason}
              autoFocus
              onChange={(e) => setReason(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setReason(null)}
            />
            <Button type="submit" variant="go">
              Set aside
            </Button>
          </Form>
        )}
      </div>
      <span className="finding-tools">
        {finding.mends.map((m, i) => (
          <Button key={m.text} variant={i === 0 ? 'go' : 'quiet'} onClick={() => mend(m)}>
            {m.text}
          </Button>
        ))}
        {to && (
          <Link to={to} className="btn btn-quiet">
            Look
          </Link>
        )}
        {reason === null && (
          <Button variant="bare" onClick={() => setReason('')}>
            Set aside
          </Button>
        )}
      </span>
    </li>
  );
}

/** Does what a mend says, as one step that undo takes back. */
export function useMend(show: FullShow): (mend: Mend) => void {
  const rigs = useEdit('rigs');
  const presets = useEdit('presets');
  const songs = useEdit('songs');
  const sets = useEdit('sets');
  return ({ text, document, documentId, changes }) => {
    const change = <D extends Json>(doc: D): D => applied(doc, changes);
    const label = `mend: ${text.charAt(0).toLowerCase()}${text.slice(1)}`;
    switch (document) {
      case 'rig':
        return rigs(documentId ?? show.rig.id, label, change);
      case 'preset':
        return presets(documentId ?? '', label, change);
      case 'song':
        return songs(documentId ?? '', label, change);
      case 'set':
        return sets(documentId ?? '', label, change);
    }
  };
}

/** Where a finding can be looked at. */
function wayTo(show: FullShow, { place, code }: ProofFinding): string | null {
  if (code === 'check-old') return '/check';
  if (code === 'not-stored') return `/floor/${place.field?.slice('boards.'.length)}/memory`;
  if (place.control) {
    const { pageId } = place.control;
    const preset = show.presets.find((p) => pagesOf(p).some((page) => page.id === pageId));
    return preset ? `/floor/${preset.boardId}` : '/floor';
  }
  if (place.sceneId !== undefined) {
    const song = show.songs.find((s) => s.scenes.some((c) => c.id === place.sceneId));
    return song ? `/songs/${song.id}` : '/songs';
  }
  if (place.routeIds) return '/routes';
  const [deviceId] = place.deviceIds ?? [];
  if (deviceId !== undefined)
    return code === 'row-double'
      ? `/rig/${deviceId}/chart`
      : code === 'start-up'
        ? `/rig/${deviceId}/device`
        : `/rig/${deviceId}`;
  if (place.field?.startsWith('songs.')) return `/songs/${place.field.slice('songs.'.length)}`;
  return show.setId ? `/sets/${show.setId}` : '/sets';
}
