import { Navigate, Outlet, Route, Routes } from 'react-router-dom';
import { FloorPlace } from './features/floor/FloorPlace';
import { Frame } from './features/frame/Frame';
import { NoRig } from './features/frame/NoRig';
import { useUndoKeys } from './features/frame/useUndoKeys';
import { useSwitchKeys } from './features/frame/useSwitchKeys';
import { RigPlace } from './features/rig/RigPlace';
import { RoutesPlace } from './features/routes/RoutesPlace';
import { SetsPlace } from './features/sets/SetsPlace';
import { SongsPlace } from './features/songs/SongsPlace';
import { StagePlace } from './features/stage/StagePlace';
import { useRig } from './drafts/useDocs';
import { useFeedLive } from './live/useShow';

export function App() {
  useFeedLive();
  useUndoKeys();
  useSwitchKeys();
  return (
    <Routes>
      <Route
        element={
          <Frame>
            <RigOrFirstStep />
          </Frame>
        }
      >
        <Route index element={<Navigate to="/rig" replace />} />
        <Route path="rig/:deviceId?/:room?" element={<RigPlace />} />
        <Route path="floor/:boardId?/:room?" element={<FloorPlace />} />
        <Route path="routes/:room?" element={<RoutesPlace />} />
        <Route path="songs/:songId?" element={<SongsPlace />} />
        <Route path="sets/:setId?" element={<SetsPlace />} />
        <Route path="*" element={<Navigate to="/rig" replace />} />
      </Route>
      <Route path="stage" element={<StagePlace />} />
    </Routes>
  );
}

/** Every place needs a rig; without one, the first step is offered instead. */
function RigOrFirstStep() {
  const { rig, isLoading, isError } = useRig();
  if (rig) return <Outlet />;
  return <NoRig isLoading={isLoading} isError={isError} />;
}
