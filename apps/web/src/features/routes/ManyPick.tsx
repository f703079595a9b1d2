import { Form } from 'react-bootstrap';

type Props<T extends string | number> = {
  legend: string;
  /** What none chosen means. */
  none: string;
  options: readonly { value: T; text: string }[];
  chosen: readonly T[];
  onChange(chosen: T[]): void;
};

/** Any of a list; in the order of the list, whatever the order of choosing. */
export function ManyPick<T extends string | number>({ legend, none, options, chosen, onChange }: Props<T>) {
  return (
    <fieldset className="many-pick">
      <legend className="form-label">
        {legend} {chosen.length === 0 && <span className="muted">({none})</span>}
      </legend>
      {options.map((o) => (
        <Form.Check
          key={o.value}
          id={`${legend}-${o.value}`}
          type="checkbox"
          label={o.text}
          checked={chosen.includes(o.value)}
          onChange={(e) =>
            onChange(
              options
                .map((x) => x.value)
                .filter((v) => (v === o.value ? e.target.checked : chosen.includes(v))),
            )
          }
        />
      ))}
    </fieldset>
  );
}
