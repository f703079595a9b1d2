import type { Route } from '@idle-step/core/routing';
import { Plus, Trash2 } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { Pick } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { destinationOptions } from '../routePorts';

import { CHANNEL_OPTIONS, type PartProps } from './partFields';
import { nth } from '@idle-step/core/sure';

/** Where it sends. */
export function ToEditor({ rig, route, onChange }: PartProps) {
  const options = destinationOptions(rig);
  const set = (to: Route['to']) => onChange({ ...route, to });
  return (
    <>
      {route.to.map((t, i) => (
        <div className="field-row" key={i}>
          <Pick
            label={`Destination ${i + 1}`}
            value={t.portId}
            options={
              options.some((o) => o.value === t.portId)
                ? options
                : [{ value: t.portId, text: 'a port that is gone' }, ...options]
            }
            onPick={(portId) => set(route.to.map((x, k) => (k === i ? { ...x, portId } : x)))}
          />
          <Pick
            label={`Channel of ${i + 1}`}
            className="narrow"
            value={t.channel ?? -1}
            options={[{ value: -1, text: 'as it is' }, ...CHANNEL_OPTIONS]}
            onPick={(channel) =>
              set(route.to.map((x, k) => (k === i ? { ...x, channel: channel < 0 ? null : channel } : x)))
            }
          />
          <IconButton
            icon={Trash2}
            label={`Remove destination ${i + 1}`}
            onClick={() => set(route.to.filter((_, k) => k !== i))}
          />
        </div>
      ))}
      <div className="field-row">
        <Button
          variant="bare"
          disabled={options.length === 0}
          onClick={() => set([...route.to, { portId: nth(options, 0).value, channel: null }])}
        >
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Add a destination
        </Button>
        <Form.Check
          id={`${route.id}-after`}
          type="checkbox"
          label="offer the message to the routes below as well"
          checked={route.after === 'pass'}
          onChange={(e) => onChange({ ...route, after: e.target.checked ? 'pass' : 'stop' })}
        />
      </div>
      {options.length === 0 && (
        <p className="small muted">No output is at the computer yet; add one in Rig.</p>
      )}
    </>
  );
}
