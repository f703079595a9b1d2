import { Navigate, Route, Routes } from 'react-router-dom';
import { useUndoKeys } from './documents/useUndoKeys';
import { useSwitchKeys } from './features/frame/useSwitchKeys';
import { useCapture } from './live/use/useCapture';
import { useFeedLive } from './live/use/useShow';
import { Framed } from './Framed';
import { inPieces } from './ui/inPieces';

const fetching = (name: string) => <p className="work-pad muted">Fetching {name} …</p>;
const RigPlace = inPieces(() => import('./features/rig/RigPlace').then((m) => m.RigPlace), fetching('Rig'));
const FloorPlace = inPieces(
  () => import('./features/floor/FloorPlace').then((m) => m.FloorPlace),
  fetching('Floor'),
);
const RoutesPlace = inPieces(
  () => import('./features/routes/RoutesPlace').then((m) => m.RoutesPlace),
  fetching('Routes'),
);
const SongsPlace = inPieces(
  () => import('./features/songs/SongsPlace').then((m) => m.SongsPlace),
  fetching('Songs'),
);
const BookPlace = inPieces(
  () => import('./features/songs/book/BookPlace').then((m) => m.BookPlace),
  fetching('the book'),
);
const SetsPlace = inPieces(
  () => import('./features/sets/SetsPlace').then((m) => m.SetsPlace),
  fetching('Sets'),
);
const PrintPlace = inPieces(
  () => import('./features/sets/PrintPlace').then((m) => m.PrintPlace),
  <main className="print-sheet" />,
);
const HandPrintPlace = inPieces(
  () => import('./features/floor/hand/HandPrintPlace').then((m) => m.HandPrintPlace),
  <main className="print-sheet" />,
);
const RigsPlace = inPieces(
  () => import('./features/rigs/RigsPlace').then((m) => m.RigsPlace),
  fetching('Rigs'),
);
const BackupsPlace = inPieces(
  () => import('./features/rigs/BackupsPlace').then((m) => m.BackupsPlace),
  fetching('the backups'),
);
const SharePlace = inPieces(
  () => import('./features/rigs/SharePlace').then((m) => m.SharePlace),
  fetching('what can be shared'),
);
const TakeInPlace = inPieces(
  () => import('./features/rigs/TakeInPlace').then((m) => m.TakeInPlace),
  fetching('Take in'),
);
const BinPlace = inPieces(
  () => import('./features/bin/BinPlace').then((m) => m.BinPlace),
  fetching('the bin'),
);
const CheckPlace = inPieces(
  () => import('./features/check/CheckPlace').then((m) => m.CheckPlace),
  fetching('the line check'),
);
const ProofPlace = inPieces(
  () => import('./features/proof/ProofPlace').then((m) => m.ProofPlace),
  fetching('Proof'),
);
const PaperPlace = inPieces(
  () => import('./features/paper/PaperPlace').then((m) => m.PaperPlace),
  fetching('On paper'),
);
const BeginPlace = inPieces(
  () => import('./features/begin/BeginPlace').then((m) => m.BeginPlace),
  fetching('the first steps'),
);
const StagePlace = inPieces(
  () => import('./features/stage/StagePlace').then((m) => m.StagePlace),
  <main className="stage" />,
);

export function App() {
  useFeedLive();
  useUndoKeys();
  useSwitchKeys();
  useCapture();
  return (
    <Routes>
      <Route element={<Framed />}>
        <Route index element={<Navigate to="/rig" replace />} />
        <Route path="rig/:deviceId?/:room?" element={<RigPlace />} />
        <Route path="begin" element={<BeginPlace />} />
        <Route path="rigs" element={<RigsPlace />} />
        <Route path="rigs/backups" element={<BackupsPlace />} />
        <Route path="rigs/share" element={<SharePlace />} />
        <Route path="rigs/take-in" element={<TakeInPlace />} />
        <Route path="check" element={<CheckPlace />} />
        <Route path="proof/:room?" element={<ProofPlace />} />
        <Route path="paper/:kind?" element={<PaperPlace />} />
        <Route path="bin" element={<BinPlace />} />
        <Route path="floor/:boardId?/:room?" element={<FloorPlace />} />
        <Route path="routes/:room?" element={<RoutesPlace />} />
        <Route path="songs/book" element={<BookPlace />} />
        <Route path="songs/:songId?/:room?" element={<SongsPlace />} />
        <Route path="sets/:setId?" element={<SetsPlace />} />
        <Route path="sets/:setId/evenings/:eveningId?" element={<SetsPlace room="evenings" />} />
        <Route path="*" element={<Navigate to="/rig" replace />} />
      </Route>
      <Route path="stage" element={<StagePlace />} />
      <Route path="rehearse" element={<StagePlace isRehearsal />} />
      <Route path="floor/:boardId/by-hand/print" element={<HandPrintPlace />} />
      <Route path="sets/:setId/print" element={<PrintPlace />} />
    </Routes>
  );
}
