import { CURVE_WORDS, PLAIN_CURVES, type PlainCurve } from '@idle-step/core/floor';
import { Pick } from './Fields';

const OPTIONS = PLAIN_CURVES.map((value) => ({ value, text: CURVE_WORDS[value] }));

type Props = { label: string; value: PlainCurve; onPick(curve: PlainCurve): void };

/** Chooses a curve, by the same words everywhere. */
export const CurvePick = ({ label, value, onPick }: Props) => (
  <Pick label={label} value={value} options={OPTIONS} onPick={onPick} />
);
