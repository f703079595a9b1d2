import type { Control } from '@idle-step/core/floor';
import { whole } from '@idle-step/contract';
import { TAPE_COLOURS } from '@idle-step/core/gear';
import { readWhole } from '@idle-step/core/typed';
import { Form } from 'react-bootstrap';
import { NumberField, TypedField } from '../../../ui/Fields';
import type { SetHardware } from './setHardware';

type Lamp = NonNullable<Control['hardware']['lamp']>;
type Colours = NonNullable<Lamp['colours']>;

/** A number from 0 to 127, or none. */
function colourNumber(text: string): { value: number | null } | { error: string } {
  if (text.trim() === '') return { value: null };
  const number = readWhole(text);
  return number !== null && number >= 0 && number <= 127
    ? { value: number }
    : { error: `“${text.trim()}” is no value; 0 to 127, or nothing, would be right.` };
}

const withColour = (colours: Colours | undefined, colour: keyof Colours, number: number | null): Colours => {
  const { [colour]: _before, ...others } = colours ?? {};
  return number === null ? others : { ...others, [colour]: number };
};

/** How the lamp of a control is lit from outside. */
export function LampHardware({ control, set }: { control: Control; set: SetHardware }) {
  const { lamp } = control.hardware;
  const D7 = whole('Value', 0, 127);
  return (
    <fieldset>
      <legend>Its lamp</legend>
      <Form.Check
        id="lamp-by-message"
        label="is lit by messages that come back"
        checked={lamp !== null}
        onChange={(e) =>
          set('say how a lamp is lit', { lamp: e.target.checked ? { off: 0, on: 127, blink: null } : null })
        }
      />
      {lamp && (
        <>
          <NumberField
            label="Off is sent"
            className="narrow"
            value={lamp.off}
            schema={D7}
            onCommit={(off) => set('set a lamp', { lamp: { ...lamp, off } })}
          />
          <NumberField
            label="On is sent"
            className="narrow"
            value={lamp.on}
            schema={D7}
            onCommit={(on) => set('set a lamp', { lamp: { ...lamp, on } })}
          />
          <Form.Check
            id="lamp-blinks"
            label="can blink"
            checked={lamp.blink !== null}
            onChange={(e) => set('set a lamp', { lamp: { ...lamp, blink: e.target.checked ? 64 : null } })}
          />
          {lamp.blink !== null && (
            <NumberField
              label="Blinking is sent"
              className="narrow"
              value={lamp.blink}
              schema={D7}
              onCommit={(blink) => set('set a lamp', { lamp: { ...lamp, blink } })}
            />
          )}
          <Form.Check
            id="lamp-colours"
            label="has several colours"
            checked={lamp.colours !== undefined}
            onChange={(e) =>
              set('set a lamp', { lamp: { ...lamp, colours: e.target.checked ? {} : undefined } })
            }
          />
          {lamp.colours && (
            <div className="lamp-colours">
              {TAPE_COLOURS.map((colour) => (
                <TypedField
                  key={colour}
                  label={`${colour.replace(/^./, (c) => c.toUpperCase())} is sent`}
                  className="narrow"
                  numeric
                  placeholder="not"
                  shown={String(lamp.colours?.[colour] ?? '')}
                  parse={(text) => colourNumber(text)}
                  onCommit={(number) =>
                    set('set a lamp', {
                      lamp: { ...lamp, colours: withColour(lamp.colours, colour, number) },
                    })
                  }
                />
              ))}
            </div>
          )}
        </>
      )}
    </fieldset>
  );
}
