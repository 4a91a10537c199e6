import * as z from 'zod';
import { cosmetic, id, text } from '../field.ts';

/** Where a value came from that a brief set, until somebody confirms or changes it. */
export const originSchema = cosmetic(
  z.strictObject({
    id,
    place: text('Place', 'Which value: a JSON Pointer (RFC 6901) that names rows by their ids.', {
      mono: true,
    }),
    value: text(
      'Value',
      'The value as it was set; another value than this was confirmed by the person who typed it.',
      {
        longest: 500,
        mono: true,
      },
    ),
    says: text('Where from', 'The line of the text, the answer, or the usual value that it was set from.', {
      longest: 300,
    }),
  }),
);
