import { z } from 'zod';
import { given } from './numbers';

/** What belongs somewhere, in words. */
const KINDS: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  tuple: 'a list',
  object: 'a group of fields',
  record: 'a group of fields',
  null: 'nothing',
  date: 'a date',
};

const kindOf = (kind: string): string => KINDS[kind] ?? 'something else';

/** Values told at the most where one of a few belongs. */
const VALUES_TOLD = 12;

/** What is too much or too little, by what it is. */
function sizeWords(origin: string, limit: number, isMost: boolean): string {
  const word = isMost ? 'more' : 'less';
  if (origin === 'string')
    return `This text is ${isMost ? 'longer' : 'shorter'} than ${limit} ${limit === 1 ? 'character' : 'characters'}.`;
  if (origin === 'array' || origin === 'set') return `These are ${isMost ? 'more' : 'fewer'} than ${limit}.`;
  return `This is ${word} than ${limit}.`;
}

/**
 * What is said where a schema has no sentence of its own. Without it the validator's own words would come through, which
 * are for programmers.
 */
export const plainWords = (issue: z.core.$ZodRawIssue): string => {
  const words = wordsOf(issue);
  return words.slice(0, 1).toUpperCase() + words.slice(1);
};

function wordsOf(issue: z.core.$ZodRawIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined
        ? `Something is missing here; ${kindOf(issue.expected)} would be right.`
        : `${given(issue.input)} stands where ${kindOf(issue.expected)} belongs.`;
    case 'invalid_value': {
      const values = issue.values.slice(0, VALUES_TOLD).map(String).join(', ');
      return `${given(issue.input)} is not known here; ${values}${issue.values.length > VALUES_TOLD ? ' …' : ''} would be right.`;
    }
    case 'too_big':
      return sizeWords(issue.origin, Number(issue.maximum), true);
    case 'too_small':
      return sizeWords(issue.origin, Number(issue.minimum), false);
    case 'unrecognized_keys':
      return `${issue.keys.map((k) => `“${k.slice(0, 40)}”`).join(', ')} has no place here.`;
    case 'invalid_union':
      return `${given(issue.input)} is of no kind that is known here.`;
    case 'invalid_format':
      return `${given(issue.input)} is not written as it has to be here.`;
    case 'not_multiple_of':
      return `${given(issue.input)} is no multiple of ${Number(issue.divisor)}.`;
    default:
      return 'What stands here is not valid.';
  }
}

z.config({ localeError: plainWords });
