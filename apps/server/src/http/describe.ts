import { ApiResponse } from '@nestjs/swagger';
import { ProblemSchema, type Kept } from '@idle-step/contract';
import type { Response } from 'express';
import { z } from 'zod';

/** A Zod schema as OpenAPI has it. */
export const openApi = (schema: z.ZodType) => {
  const options = { target: 'openapi-3.0', io: 'input', unrepresentable: 'any' } as const;
  return { schema: z.toJSONSchema(schema, options) } as object as { schema: Record<string, never> };
};

/** The problems that an answer may be, by their status. */
export const Problems = (...statuses: [number, string][]): MethodDecorator => {
  const { schema } = openApi(ProblemSchema);
  const decorators = statuses.map(([status, description]) =>
    ApiResponse({ status, description, content: { 'application/problem+json': { schema } } }),
  );
  return (target, key, descriptor) => decorators.forEach((d) => d(target, key, descriptor));
};

/** A kept document with its version as ETag. */
export function tagged<D>(response: Response, kept: Kept<D>): Kept<D> {
  response.setHeader('ETag', `"${kept.version}"`);
  return kept;
}
