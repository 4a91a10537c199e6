import type { Plan } from './schema.ts';

type Places<Value, Here extends string> =
  | Here
  | (Value extends readonly (infer Element)[]
      ? Element extends object
        ? Places<Element, `${Here}/${number}`> | `${Here}/-`
        : `${Here}/${number}`
      : Value extends object
        ? { [Key in keyof Value & string]: Places<Value[Key], `${Here}/${Key}`> }[keyof Value & string]
        : never);

/**
 * A JSON Pointer (RFC 6901) of a plan: a section, a list, a row or a field. The type is made from the schema, so that a
 * pointer to what is not there does not compile.
 */
export type At = Exclude<Places<Plan, ''>, ''>;

/** A pointer that was read out of a plan, or of a page that shows one: nobody wrote it. */
export const asAt = (pointer: string): At => pointer as At;
