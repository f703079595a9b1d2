import { Form } from 'react-bootstrap';

type Props = { label: string; value: string; onChange(text: string): void; placeholder?: string };

/** A text that narrows down what is shown, letter by letter. */
export function SearchField({ label, value, onChange, placeholder = 'Search' }: Props) {
  return (
    <Form.Control
      className="chart-search"
      type="search"
      aria-label={label}
      placeholder={placeholder}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}
