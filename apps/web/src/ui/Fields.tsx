import { readNumber } from '@idle-step/core/typed';
import { CircleAlert } from 'lucide-react';
import { useEffect, useId, useRef, useState } from 'react';
import { Form } from 'react-bootstrap';
import type { z } from 'zod';
import { nth } from '@idle-step/core/sure';

type TextFieldProps = {
  label: string;
  value: string;
  /** What the text has to be; a refused text stays as typed, with the sentence below it. */
  schema: z.ZodType<string>;
  onCommit(value: string): void;
  hideLabel?: boolean;
  className?: string;
  placeholder?: string;
  /** Whether one types at once, in place of what stands in it. */
  startsMarked?: boolean;
};

/** A line of text that is taken over on Enter or on leaving it; Escape puts back what was there. */
export function TextField({ schema, value, onCommit, ...rest }: TextFieldProps) {
  return (
    <TypedField
      {...rest}
      shown={value}
      parse={(text) => {
        const result = schema.safeParse(text);
        return result.success ? { value: result.data } : { error: nth(result.error.issues, 0).message };
      }}
      onCommit={onCommit}
    />
  );
}

type NumberFieldProps = {
  label: string;
  value: number;
  schema: z.ZodType<number>;
  onCommit(value: number): void;
  /** What is added to the kept number for people: 1 for channels. */
  shownOffset?: number;
  hideLabel?: boolean;
  className?: string;
};

/** A number typed by a person. What is no number, or out of bounds, stays as typed with a sentence. */
export function NumberField({ schema, value, onCommit, shownOffset = 0, ...rest }: NumberFieldProps) {
  return (
    <TypedField
      {...rest}
      numeric
      shown={String(value + shownOffset)}
      parse={(text) => {
        const number = readNumber(text);
        const result = schema.safeParse(number === null ? text : number - shownOffset);
        return result.success ? { value: result.data } : { error: nth(result.error.issues, 0).message };
      }}
      onCommit={onCommit}
    />
  );
}

type Parsed<T> = { value: T; error?: undefined } | { error: string };

type TypedFieldProps<T> = {
  label: string;
  shown: string;
  parse(text: string): Parsed<T>;
  onCommit(value: T): void;
  numeric?: boolean;
  hideLabel?: boolean;
  className?: string;
  placeholder?: string;
  startsMarked?: boolean;
};

export function TypedField<T>({
  label,
  shown,
  parse,
  onCommit,
  numeric,
  hideLabel,
  className,
  placeholder,
  startsMarked,
}: TypedFieldProps<T>) {
  const [text, setText] = useState(shown);
  const [error, setError] = useState<string | null>(null);
  const id = useId();
  const isTyping = useRef(false);
  useEffect(() => {
    if (isTyping.current) return;
    setText(shown);
    setError(null);
  }, [shown]);

  const commit = () => {
    if (!isTyping.current) return;
    const result = parse(text);
    if (result.error !== undefined) {
      setError(result.error);
      return;
    }
    isTyping.current = false;
    setError(null);
    if (text === shown) return;
    onCommit(result.value);
  };

  return (
    <Form.Group controlId={id} className={className ?? ''}>
      <Form.Label className={hideLabel ? 'visually-hidden' : ''}>{label}</Form.Label>
      <Form.Control
        className={numeric ? 'num' : ''}
        value={text}
        placeholder={placeholder}
        isInvalid={error !== null}
        aria-describedby={error ? `${id}-error` : undefined}
        autoComplete="off"
        autoFocus={startsMarked ?? false}
        onFocus={(e) => startsMarked && !isTyping.current && e.target.select()}
        onChange={(e) => {
          isTyping.current = true;
          setText(e.target.value);
        }}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit();
          if (e.key !== 'Escape') return;
          isTyping.current = false;
          setText(shown);
          setError(null);
        }}
      />
      {error !== null && (
        <span className="field-error" id={`${id}-error`} role="alert">
          <CircleAlert size={14} aria-hidden="true" />
          {error}
        </span>
      )}
    </Form.Group>
  );
}

type PickProps<T extends string | number> = {
  label: string;
  value: T;
  /** A value alone is read as it is. */
  options: readonly (T | { value: T; text: string })[];
  onPick(value: T): void;
  hideLabel?: boolean;
  className?: string;
  disabled?: boolean;
};

/** One of a list. */
export function Pick<T extends string | number>({
  label,
  value,
  options,
  onPick,
  hideLabel,
  className,
  disabled,
}: PickProps<T>) {
  const id = useId();
  const all = options.map((o) => (typeof o === 'object' ? o : { value: o, text: String(o) }));
  return (
    <Form.Group controlId={id} className={className ?? ''}>
      <Form.Label className={hideLabel ? 'visually-hidden' : ''}>{label}</Form.Label>
      <Form.Select
        value={String(value)}
        disabled={disabled}
        onChange={(e) => {
          const picked = all.find((o) => String(o.value) === e.target.value);
          if (picked) onPick(picked.value);
        }}
      >
        {all.map((o) => (
          <option key={o.value} value={String(o.value)}>
            {o.text}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}
