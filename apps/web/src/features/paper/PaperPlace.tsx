import { pageSvg, type PaperPage } from '@idle-step/core/paper';
import { whole } from '@idle-step/contract';
import { Download } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { NavLink, useParams, useSearchParams } from 'react-router-dom';
import { useOpened, usePresets, useRig, useSongsOf } from '../../drafts/useDocs';
import { saveBytes, saveTextFile } from '../../files/saveTextFile';
import { useIsShown, useWorld } from '../../live/use/useLive';
import { useInPlay } from '../../live/use/useShow';
import { useFeetModel } from '../../proof/useFeetModel';
import { useFeet } from '../../proof/useProof';
import { measureWith, paperFonts, type PaperFonts } from '../../paper/fonts';
import { NumberField, Pick } from '../../ui/Fields';
import { counted } from '../../words/counted';
import {
  documentOf,
  KINDS,
  type PaperChoice,
  type PaperDocument,
  type PaperKind,
  type PaperSource,
} from './documents';

const FIRST: PaperChoice = {
  paper: 'a4',
  boardId: '',
  bankId: '',
  isColoured: true,
  heightMm: 14,
  isLong: false,
  songId: '',
  deviceId: '',
  presetId: '',
};

/** What goes onto paper: looked at first, then saved as a PDF to scale. */
export function PaperPlace() {
  const { kind: wanted } = useParams();
  const kind = KINDS.find((k) => k.kind === wanted)?.kind ?? 'labels';
  const source = useSource(kind === 'plan');
  const { fonts, trouble } = useFonts();
  const [choice, setChoice] = useState(FIRST);
  const made = useMemo(
    () => (source && fonts ? documentOf(kind, source, choice, measureWith(fonts)) : null),
    [source, fonts, kind, choice],
  );
  const change = (part: Partial<PaperChoice>) => setChoice((now) => ({ ...now, ...part }));
  return (
    <div className="work-pad paper-place">
      <div className="place-head">
        <h1>On paper</h1>
        <nav className="tabs" aria-label="What goes onto paper">
          {KINDS.map((k) => (
            <NavLink key={k.kind} to={`/paper/${k.kind}`} className={k.kind === kind ? 'on' : ''}>
              {k.text}
            </NavLink>
          ))}
        </nav>
      </div>
      {source && <Choices kind={kind} source={source} choice={choice} onChange={change} />}
      {trouble !== null ? (
        <p className="field-error" role="alert">
          {trouble}
        </p>
      ) : made === null || fonts === null ? (
        <p className="muted" role="status">
          Laying it out …
        </p>
      ) : typeof made === 'string' ? (
        <p className="muted">{made}</p>
      ) : (
        <Made made={made} fonts={fonts} kind={kind} />
      )}
    </div>
  );
}

/** The rig, and the set that the address names, or the one in play. */
function useSource(isPlan: boolean): PaperSource | null {
  const { rig } = useRig();
  const world = useWorld();
  const isShown = useIsShown(rig?.id);
  const presets = usePresets(rig?.id);
  const [query] = useSearchParams();
  const inPlay = useInPlay(rig?.id);
  const named = useOpened('sets', rig?.id, query.get('set') ?? undefined);
  const set = named ?? inPlay.set;
  const { songs, isLoaded } = useSongsOf(set);
  const show = useMemo(
    () => (isPlan && rig && isShown ? { ...world.show, rig } : null),
    [isPlan, rig, isShown, world],
  );
  const { state } = useFeet(show, useFeetModel().model);
  const plan = state.kind === 'found' ? state.found.plan : null;
  return useMemo(
    () => (rig && isShown && (isLoaded || !set) ? { rig, world, presets, set, songs, plan } : null),
    [rig, isShown, isLoaded, world, presets, set, songs, plan],
  );
}

function useFonts(): { readonly fonts: PaperFonts | null; readonly trouble: string | null } {
  const [fonts, setFonts] = useState<PaperFonts | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    let isHere = true;
    paperFonts().then(
      (f) => isHere && setFonts(f),
      () =>
        isHere &&
        setTrouble('The letters for paper did not come: is the server there? Open this page again.'),
    );
    return () => {
      isHere = false;
    };
  }, []);
  return { fonts, trouble };
}

const HeightMm = whole('Height', 6, 60);

/** What can be chosen of a document. */
function Choices({
  kind,
  source: { rig, world, presets, songs },
  choice,
  onChange,
}: {
  kind: PaperKind;
  source: PaperSource;
  choice: PaperChoice;
  onChange(part: Partial<PaperChoice>): void;
}) {
  const board = world.boards.find((b) => b.board.id === choice.boardId) ?? world.boards[0];
  const charts = rig.devices.filter((d) => d.chart.length > 0);
  return (
    <div className="paper-choices">
      <Pick
        label="Paper"
        value={choice.paper}
        options={[
          { value: 'a4', text: 'A4' },
          { value: 'letter', text: 'Letter' },
        ]}
        onPick={(paper) => onChange({ paper })}
      />
      {kind === 'labels' && board && (
        <>
          <Pick
            label="Board"
            value={board.board.id}
            options={world.boards.map((b) => ({ value: b.board.id, text: b.device.name }))}
            onPick={(boardId) => onChange({ boardId, bankId: '' })}
          />
          <Pick
            label="Banks"
            value={choice.bankId}
            options={[
              { value: '', text: 'all banks' },
              ...board.banks.map((b) => ({ value: b.bank.id, text: b.bank.name })),
            ]}
            onPick={(bankId) => onChange({ bankId })}
          />
          <NumberField
            label="High, mm"
            className="narrow"
            value={choice.heightMm}
            schema={HeightMm}
            onCommit={(heightMm) => onChange({ heightMm })}
          />
          <Form.Check
            id="paper-coloured"
            label="tape colours"
            checked={choice.isColoured}
            onChange={(e) => onChange({ isColoured: e.target.checked })}
          />
        </>
      )}
      {kind === 'order' && (
        <Pick
          label="Kind"
          value={choice.isLong ? 'long' : 'large'}
          options={[
            { value: 'large', text: 'one page, large' },
            { value: 'long', text: 'with scenes and remarks' },
          ]}
          onPick={(value) => onChange({ isLong: value === 'long' })}
        />
      )}
      {kind === 'cues' && songs.length > 0 && (
        <Pick
          label="Song"
          value={songs.some((s) => s.id === choice.songId) ? choice.songId : (songs[0]?.id ?? '')}
          options={songs.map((s) => ({ value: s.id, text: s.name }))}
          onPick={(songId) => onChange({ songId })}
        />
      )}
      {kind === 'chart' && charts.length > 0 && (
        <Pick
          label="Device"
          value={charts.some((d) => d.id === choice.deviceId) ? choice.deviceId : (charts[0]?.id ?? '')}
          options={charts.map((d) => ({ value: d.id, text: d.name }))}
          onPick={(deviceId) => onChange({ deviceId })}
        />
      )}
      {kind === 'sent' && presets.length > 0 && (
        <Pick
          label="Preset"
          value={presets.some((p) => p.id === choice.presetId) ? choice.presetId : (presets[0]?.id ?? '')}
          options={presets.map((p) => ({ value: p.id, text: p.name }))}
          onPick={(presetId) => onChange({ presetId })}
        />
      )}
    </div>
  );
}

/** The pages as they will be, and what saves them. */
function Made({ made, fonts, kind }: { made: PaperDocument; fonts: PaperFonts; kind: PaperKind }) {
  const [isBusy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const savePdf = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const { pdfOf } = await import('../../paper/pdf');
      const bytes = await pdfOf(made.title, made.pages, fonts);
      saveBytes(`${made.title}.pdf`, 'application/pdf', new Uint8Array(bytes));
    } catch {
      setTrouble('The PDF was not made: is the server there? Try it again.');
    }
    setBusy(false);
  };
  const saveSvg = () =>
    made.pages.forEach((page, i) =>
      saveTextFile(
        made.pages.length === 1 ? `${made.title}.svg` : `${made.title} ${i + 1}.svg`,
        'image/svg+xml',
        pageSvg(page),
      ),
    );
  return (
    <>
      <div className="paper-save">
        <Button variant="go" disabled={isBusy} onClick={() => void savePdf()}>
          <Download size={16} strokeWidth={1.75} aria-hidden="true" />
          {isBusy ? 'Making it …' : 'Save as PDF'}
        </Button>
        {kind === 'labels' && (
          <Button variant="quiet" onClick={saveSvg}>
            <Download size={16} strokeWidth={1.75} aria-hidden="true" />
            Save as SVG
          </Button>
        )}
        <span className="muted" role="status">
          {counted(made.pages.length, 'page')}
          {kind === 'labels' && ', to scale: print it at 100 %'}
        </span>
        {trouble && (
          <span className="field-error" role="alert">
            {trouble}
          </span>
        )}
      </div>
      <div className="paper-pages" role="region" aria-label={`${made.title}, as it will be`} tabIndex={0}>
        {made.pages.map((page, i) => (
          <Look key={i} page={page} name={`Page ${i + 1}`} />
        ))}
      </div>
    </>
  );
}

/** A page as it will be. Its words are escaped where the drawing is made. */
function Look({ page, name }: { page: PaperPage; name: string }) {
  const drawing = useMemo(() => ({ __html: pageSvg(page) }), [page]);
  return <div className="paper-page" role="img" aria-label={name} dangerouslySetInnerHTML={drawing} />;
}
