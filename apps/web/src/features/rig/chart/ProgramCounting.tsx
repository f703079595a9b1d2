import {
  parseProgramPattern,
  patternSpan,
  programSpan,
  PROGRAM_PATTERNS,
  type Device,
} from '@idle-step/core/gear';
import { useState } from 'react';
import { Pick, TypedField } from '../../../ui/Fields';
import { isOneOf } from '@idle-step/core/sure';

type Counting = Partial<{ programsShownFrom: 0 | 1; programPattern: string | null }>;

/** What one begins with who counts in a way of one's own. */
const OWN_AT_FIRST = '[1-16]-[1-8]';

/** How the display of a device counts its programs. */
export function ProgramCounting({ device, onChange }: { device: Device; onChange(part: Counting): void }) {
  const { programPattern: pattern, programsShownFrom } = device;
  const [isOwn, setOwn] = useState(false);
  const known = isOneOf(PROGRAM_PATTERNS, pattern) && !isOwn;
  return (
    <>
      <Pick
        label="Programs are called"
        value={pattern === null ? String(programsShownFrom) : known ? pattern : 'own'}
        options={[
          { value: '0', text: '0 to 127' },
          { value: '1', text: '1 to 128' },
          ...PROGRAM_PATTERNS.map((value) => ({ value, text: patternSpan(value) })),
          { value: 'own', text: 'another way …' },
        ]}
        onPick={(value) => {
          setOwn(value === 'own');
          if (value === '0' || value === '1')
            onChange({ programsShownFrom: value === '0' ? 0 : 1, programPattern: null });
          else onChange({ programPattern: value === 'own' ? (pattern ?? OWN_AT_FIRST) : value });
        }}
      />
      {pattern !== null && !known && (
        <>
          <TypedField
            label="Their pattern"
            shown={pattern}
            parse={(text) => {
              const read = parseProgramPattern(text);
              return read.ok ? { value: text.trim() } : { error: read.error };
            }}
            onCommit={(programPattern) => onChange({ programPattern })}
          />
          <span className="small muted field-note">{programSpan(device)}</span>
        </>
      )}
    </>
  );
}
