import { Body, createParamDecorator, Param, type ExecutionContext } from '@nestjs/common';
import { fieldErrors, Id, IDS_AT_MOST, PAGE_AT_MOST } from '@idle-step/contract';
import type { Request } from 'express';
import { z } from 'zod';
import { invalid, versionMissing } from './problem.exception';

class SchemaPipe<T> {
  constructor(
    private readonly schema: z.ZodType<T>,
    private readonly refused: string,
  ) {}

  transform(value: unknown): T {
    const result = this.schema.safeParse(value);
    if (result.success) return result.data;
    const errors = fieldErrors(result.error);
    const [first] = errors;
    const place = first?.path ? ` (at ${first.path})` : '';
    throw invalid(`${this.refused}: ${first?.message ?? 'it is not valid.'}${place}`, errors);
  }
}

/** The body, checked by its schema. */
export const DocBody = <T>(schema: z.ZodType<T>, what: string) =>
  Body(new SchemaPipe(schema, `The ${what} was not stored`));

/** An identifier in the path. */
export const IdParam = (name = 'id') => Param(name, new SchemaPipe(Id, 'The address leads nowhere'));

/** A version number in the path, 1 and above. */
export const VersionParam = () => Param('version', VERSION);

const VERSION = new SchemaPipe(
  z.coerce
    .number<string>()
    .int()
    .min(1)
    .max(2 ** 31 - 1),
  'The version in the address leads nowhere',
);

/** A version number of a query. */
export const versionOf = (text: unknown): number => VERSION.transform(text);

/** The version that a write was made from: the header If-Match. */
export const FromVersion = createParamDecorator((what: string, context: ExecutionContext): number => {
  const tag = context.switchToHttp().getRequest<Request>().headers['if-match'];
  const match = /^(?:W\/)?"(\d{1,9})"$/.exec(tag ?? '');
  if (!match) throw versionMissing(what);
  return Number(match[1]);
});

/** An identifier of a query. */
export function idOf(text: string, field: string): string {
  const parsed = Id.safeParse(text);
  if (parsed.success) return parsed.data;
  throw invalid(`${field} is not an identifier.`, [{ path: field, message: 'Not an identifier.' }]);
}

/** Identifiers of a query, with commas between. */
export function idsOf(text: string): string[] {
  const ids = text.split(',').filter(Boolean);
  if (ids.length <= IDS_AT_MOST) return ids.map((id) => idOf(id, 'ids'));
  const message = `${ids.length} identifiers are too many at once; ${IDS_AT_MOST} would be right.`;
  throw invalid(message, [{ path: 'ids', message }]);
}

/** Which lines of a list are wanted: from which on, counted from 0, and how many. */
export function linesOf(from: unknown, count: unknown): { from: number; count: number } {
  return { from: FROM.transform(from ?? 0), count: COUNT.transform(count ?? PAGE_AT_MOST) };
}

const FROM = new SchemaPipe(z.coerce.number<unknown>().int().min(0).max(10_000_000), 'from leads nowhere');
const COUNT = new SchemaPipe(
  z.coerce.number<unknown>().int().min(1).max(PAGE_AT_MOST),
  'count leads nowhere',
);
