import type { FetchBaseQueryError } from '@reduxjs/toolkit/query';
import type { SerializedError } from '@reduxjs/toolkit';
import { ProblemSchema, type Problem } from '@idle-step/contract';

/** Why a request failed: the server's own problem, or that it could not be reached. */
export type Failure =
  { readonly kind: 'problem'; readonly problem: Problem } | { readonly kind: 'unreachable' };

export function failureOf(error: FetchBaseQueryError | SerializedError | undefined): Failure {
  if (error && 'data' in error) {
    // fetchBaseQuery leaves problem documents as text when it does not know their media type.
    const parsed = ProblemSchema.safeParse(
      typeof error.data === 'string' ? readJson(error.data) : error.data,
    );
    if (parsed.success) return { kind: 'problem', problem: parsed.data };
  }
  return { kind: 'unreachable' };
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
