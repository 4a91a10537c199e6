import type { FastifyBaseLogger, FastifyInstance, FastifyTypeProvider, RawServerDefault } from 'fastify';
import type { IncomingMessage, ServerResponse } from 'node:http';
import * as z from 'zod';
import { fitting, Refusal } from './refusal.ts';

/** What a route reads of a request is what its declaration says; without one it is unknown, and does not compile. */
interface Declared extends FastifyTypeProvider {
  readonly validator: this['schema'] extends z.ZodType ? z.output<this['schema']> : unknown;
}

/** The server as routes see it. */
export type Server = FastifyInstance<
  RawServerDefault,
  IncomingMessage,
  ServerResponse,
  FastifyBaseLogger,
  Declared
>;

/** Checks parameters, query and body by the Zod schemas of each route's declaration. */
export const declared = (app: FastifyInstance): Server =>
  app
    .setValidatorCompiler<unknown>(({ schema }) => (given: unknown) => {
      if (!(schema instanceof z.ZodType)) throw new Error('A route declares what is no Zod schema.');
      try {
        // A body that did not come is handed over as null.
        return { value: fitting(schema, given ?? undefined) };
      } catch (error) {
        if (error instanceof Refusal) return { error };
        throw error;
      }
    })
    .withTypeProvider<Declared>();
