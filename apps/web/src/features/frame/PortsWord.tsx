import { CircleCheck, Plug, Unplug } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { useLiveHost, useLiveOf } from '../../live/use/useLive';

/** How the real ports are, in words. */
export function PortsWord() {
  const host = useLiveHost();
  const portsStatus = useLiveOf((live) => live.portsStatus);
  const portCounts = useLiveOf((live) => live.portCounts);
  switch (portsStatus.kind) {
    case 'off':
      return (
        <span className="ports-word none">
          <Button
            variant="quiet"
            onClick={() => void host.ports.open()}
            title="Ask the browser for its MIDI ports"
          >
            <Plug size={16} strokeWidth={1.75} aria-hidden="true" />
            Open ports
          </Button>
        </span>
      );
    case 'asking':
      return <span className="ports-word none">Asking the browser …</span>;
    case 'none':
      return (
        <span className="ports-word none" title={portsStatus.why}>
          <Unplug size={16} strokeWidth={1.75} aria-hidden="true" />
          stand-ins only
        </span>
      );
    case 'elsewhere':
      return (
        <span className="ports-word none">
          <Button
            variant="quiet"
            className="caution"
            onClick={() => host.otherWindow?.playHere()}
            title="Another window of this browser plays; this one takes over the ports and the evening"
          >
            <Unplug size={16} strokeWidth={1.75} aria-hidden="true" />
            Play here
          </Button>
        </span>
      );
    case 'on':
      // A tick says that something would reach the gear.
      if (portCounts.in + portCounts.out === 0)
        return (
          <Link className="ports-word none text-decoration-none" to="/rig" title="Bind ports in Rig">
            <Unplug size={16} strokeWidth={1.75} aria-hidden="true" />
            No port bound yet
          </Link>
        );
      return (
        <Link className="ports-word fine text-decoration-none" to="/rig" title="Bind ports in Rig">
          <CircleCheck size={16} strokeWidth={1.75} aria-hidden="true" />
          {portCounts.in} in, {portCounts.out} out
        </Link>
      );
  }
}
