import { ApiResponse, type OpenAPIObject } from '@nestjs/swagger';
import { ProblemSchema, type Kept } from '@idle-step/contract';
import type { Response } from 'express';
import { z } from 'zod';

/** What stands in the description of the API where a schema belongs. */
const PLACE = 'x-schema';
/** The schemas of the API by the numbers of their places. */
const schemas: z.ZodType[] = [];

/** The place of a Zod schema in the description of the API; `withSchemas` puts the schema there. */
export const openApi = (schema: z.ZodType) =>
  ({ schema: { [PLACE]: schemas.push(schema) - 1 } }) as object as { schema: Record<string, never> };

/** The description of the API with its schemas as OpenAPI has them, which takes long: for those who ask for it. */
export function withSchemas(description: OpenAPIObject): OpenAPIObject {
  const options = { target: 'openapi-3.0', io: 'input', unrepresentable: 'any' } as const;
  return JSON.parse(JSON.stringify(description), (_key, value: unknown) => {
    const place = typeof value === 'object' && value !== null && PLACE in value ? value[PLACE] : null;
    const schema = typeof place === 'number' ? schemas[place] : undefined;
    return schema ? z.toJSONSchema(schema, options) : value;
  }) as OpenAPIObject;
}

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
