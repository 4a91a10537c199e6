import { z } from 'zod';

/** Pieces that the schemas of the plan, of the WAN types and of the media share. */
export const id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/, 'an identifier has 1 to 40 letters, digits, "-" or "_"');
/** A count: whole, or not known. */
export const whole = (lowest: number, highest: number) =>
  z.number().int('a whole number is meant').min(lowest).max(highest).nullable().default(null);
export const number = (lowest: number, highest: number) =>
  z.number().min(lowest).max(highest).nullable().default(null);
