import * as z from 'zod';
import { plainPort, profileOf } from '../profile.ts';

/** Nobody knows yet. */
export const profile = profileOf({
  title: 'Not known yet',
  settings: z.strictObject({}),
  port: () => ({ ...plainPort, addressKey: '' }),
  holds: {},
});
