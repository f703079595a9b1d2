import type { LucideIcon } from 'lucide-react';
import { Button } from 'react-bootstrap';

type Props = {
  icon: LucideIcon;
  label: string;
  onClick(): void;
  disabled?: boolean;
  line?: boolean;
  pressed?: boolean;
};

/** A button that is only a sign; its label is read out and shown as a hint. */
export function IconButton({ icon: Icon, label, onClick, disabled, line, pressed }: Props) {
  return (
    <Button
      variant={line ? 'quiet' : 'bare'}
      className="btn-icon"
      aria-label={label}
      title={label}
      onClick={onClick}
      disabled={disabled ?? false}
      aria-pressed={pressed}
    >
      <Icon size={16} strokeWidth={1.75} aria-hidden="true" />
    </Button>
  );
}
