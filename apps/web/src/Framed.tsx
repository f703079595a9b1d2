import { Outlet, useLocation } from 'react-router-dom';
import { useRig } from './drafts/useDocs';
import { Frame } from './features/frame/Frame';
import { NoRig } from './features/frame/NoRig';
import { MonitorDrawer } from './features/monitor/MonitorDrawer';

/** Every place but the stage, in its frame. */
export function Framed() {
  return (
    <Frame Monitor={MonitorDrawer}>
      <RigOrFirstStep />
    </Frame>
  );
}

/** Every place needs a rig; without one, the first step is offered instead. */
function RigOrFirstStep() {
  const { rig, isLoading, isError } = useRig();
  // Where the last rig was deleted, it comes back from there.
  const isBin = useLocation().pathname === '/bin';
  if (rig || isBin) return <Outlet />;
  return <NoRig isLoading={isLoading} isError={isError} />;
}
