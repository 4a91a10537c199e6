import { z } from 'zod';

/** Nothing is known, so nothing is stored. */
export const unknownSettings = z.strictObject({});
